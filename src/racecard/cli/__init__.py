"""The same calls as the HTTP door, from a terminal."""
