"""Pages to print and tables to open elsewhere, set by libraries from plain rows."""
