"""The form book: every trial in one line, what they say of a plant, and how well a grower guesses."""
