"""The web server: rows, accounts, API, long jobs and exports around the core."""
