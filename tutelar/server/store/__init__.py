"""Rows and the documents that they make: what every stage reads and writes by."""
