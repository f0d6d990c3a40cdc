"""What reports to what, and what is still missing for it?"""
