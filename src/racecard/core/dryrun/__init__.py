"""Simulated trials, run through the very same log and finish as real ones."""
