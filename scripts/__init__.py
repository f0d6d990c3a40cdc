"""Commands of the project that are no part of the product."""
