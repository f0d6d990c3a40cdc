"""A firm's own job cards: one open file that is edited, taken away and brought in."""
