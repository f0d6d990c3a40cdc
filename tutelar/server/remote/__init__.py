"""Remote access of a site: the way that was chosen, and each device's steps."""
