"""Racecard: plan, log and honestly judge trials of cuttings and seed."""

__version__ = "0.2.0"
