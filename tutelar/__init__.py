"""Tutelar: plans, guides, records and measures the network side of a security installation."""

VERSION = "0.2.0"
