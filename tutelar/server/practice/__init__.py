"""The pretend site to practise on."""
