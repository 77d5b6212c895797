"""Numbers only: tests by permutation, intervals, curves, indices. Nothing here knows a trial."""
