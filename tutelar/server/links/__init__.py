"""What reports to what."""
