"""Arrays of numbers, and the day on which a thing never happened."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
NEVER = np.inf
