"""`python -m racecard.cli` is the `racecard` command."""

from racecard.cli.main import app

app()
