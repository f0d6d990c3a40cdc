"""Talking to devices in the protocols they really speak. Every connection passes the guard."""
