"""What is measured, witnessed and left open."""
