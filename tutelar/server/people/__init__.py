"""Who works here: roles, invitations, sessions. Owners look after it."""
