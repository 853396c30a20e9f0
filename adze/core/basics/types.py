"""Arrays of real and complex numbers as annotations."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

Complex = NDArray[np.complexfloating[Any, Any]]
Real = NDArray[np.floating[Any]]
