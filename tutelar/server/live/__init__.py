"""Live work: who answers for it, with which accounts, who is there."""
