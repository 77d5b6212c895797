"""Stewards' notes: objections to a trial, each with its rule, its sentence and what to do."""
