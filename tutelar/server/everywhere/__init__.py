"""What is asked of all sites at once."""
