"""How the installation is doing: for whoever owns it, and for what watches it."""
