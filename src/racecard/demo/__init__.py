"""The invented scenario: the propagation shed of a made-up coastal garden trust."""
