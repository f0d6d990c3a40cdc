"""Will it fit, will it be fed? Powered ports, uplinks, the line, cables, supplies and locks, each sum in one place."""
