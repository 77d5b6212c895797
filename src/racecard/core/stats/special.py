"""SciPy's special functions by their names there, loaded at the first call: that takes a fifth of a second."""

import sys
from importlib.util import LazyLoader, find_spec, module_from_spec
from typing import Any

_UNUSED = "numpy.f2py"
"""Numpy's Fortran compiler tools, of which SciPy takes the name alone: a third of the time it loads."""


def __getattr__(name: str) -> Any:
    if "scipy.special" not in sys.modules:
        _load_when_used(_UNUSED)
    import scipy.special

    return getattr(scipy.special, name)


def _load_when_used(name: str) -> None:
    """Put a module in its place whose code is run only where something in it is asked for."""
    spec = None if name in sys.modules else find_spec(name)
    if spec is None or spec.loader is None:
        return
    spec.loader = LazyLoader(spec.loader)
    module = module_from_spec(spec)
    sys.modules[name] = module
    package, _, own = name.rpartition(".")
    setattr(sys.modules[package], own, module)
    spec.loader.exec_module(module)
