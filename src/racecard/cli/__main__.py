"""`python -m racecard.cli` is the `racecard` command."""

from racecard.cli import run

run()
