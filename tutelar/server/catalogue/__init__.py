"""Models: shipped ones, those that people wrote, those of a site."""
