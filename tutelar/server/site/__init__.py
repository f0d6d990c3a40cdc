"""A site as a whole: the list, import and export, the frame of every screen."""
