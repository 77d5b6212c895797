"""The command line; `run` is the `racecard` command."""

import gc
import os
import sys

from racecard import __version__


def run() -> None:
    """Run the command that was typed; its version is told before anything heavy is loaded."""
    if sys.argv[1:] == ["--version"]:
        sys.stdout.write(f"racecard {__version__}\n")
        return
    # the sums are small: a second thread gains nothing, and waits where other work holds its processor
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    gc.disable()  # nothing that is loaded is garbage, and a command is soon over; a server enables it
    from racecard.cli.main import app

    app()
