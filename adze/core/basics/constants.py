"""Physical constants used by several subjects (SI)."""

import math

MU0_H_PER_M = 4e-7 * math.pi
EPS0_F_PER_M = 8.8541878128e-12
