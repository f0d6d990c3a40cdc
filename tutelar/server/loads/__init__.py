"""Whether everything fits: recorders, switches, uplinks, the line, cables and supplies."""
