"""Arrays of real, complex and whole numbers as annotations."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

Complex = NDArray[np.complexfloating[Any, Any]]
Real = NDArray[np.floating[Any]]
Index = NDArray[np.intp]
