"""A module a kind of link; each holds KIND. The registry finds them by itself."""
