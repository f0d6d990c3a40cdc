"""Tutelar: plans, guides, records and measures the network side of a security installation."""
