"""The kit: devices, delivery notes, labels."""
