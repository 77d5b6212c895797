"""The handbook: facts of the trade with their sources, to be read and searched."""
