"""The Chromium that tests and pictures drive: the shell without windows where there is one, as it works in two thirds of
the time.
"""

import shutil

NAMES = ("chromium-headless-shell", "chromium", "chromium-browser")
# hinted letters are wider than those of a phone
FLAGS = ("--no-sandbox", "--disable-gpu", "--disable-quic", "--font-render-hinting=none")


def chromium() -> str:
    """Where it is.

    Raises:
        FileNotFoundError: there is none.
    """
    found = next(filter(None, map(shutil.which, NAMES)), None)
    if found is None:
        raise FileNotFoundError(
            "Chromium is missing. Run make test, which installs it, or install it yourself."
        )
    return found
