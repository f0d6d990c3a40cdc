"""What comes later: the diary, changes of a device step by step, when a recording was made."""
