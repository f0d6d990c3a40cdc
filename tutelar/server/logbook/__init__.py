"""The log and what people write into it."""
