"""What do we leave behind, and what do we ask for beforehand? Content, not layout."""
