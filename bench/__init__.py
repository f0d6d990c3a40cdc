"""Measurements that print ratios against a reference of the same run."""
