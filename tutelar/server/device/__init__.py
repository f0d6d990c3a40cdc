"""The page of one device."""
