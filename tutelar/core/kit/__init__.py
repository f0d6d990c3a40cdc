"""What is in the boxes? Delivery notes, labels, names, used devices."""
