"""SciPy's special functions by their names there, loaded at the first call: that takes a fifth of a second."""

from typing import Any


def __getattr__(name: str) -> Any:
    import scipy.special

    return getattr(scipy.special, name)
