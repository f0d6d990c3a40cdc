"""Questions to others: who was asked what, when, until when, and what they answered."""
