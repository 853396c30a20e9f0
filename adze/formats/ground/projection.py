"""Between longitude and latitude (WGS84) outside and metres from the plan's origin inside."""

from collections.abc import Iterable, Sequence

import numpy as np
from pyproj import Transformer

from adze.core.basics.cache import cached
from adze.core.plan.ground import Origin
from adze.core.plan.scalars import Position

LonLat = tuple[float, float]


@cached("projections", 32)
def _projection(lat: float, lon: float) -> Transformer:
    # Equidistant from the farm's origin: across it true to 1 + r^2 / 6 R^2, 0.004 % at 100 km.
    local = f"+proj=aeqd +lat_0={lat} +lon_0={lon} +datum=WGS84 +units=m"
    return Transformer.from_crs("EPSG:4326", local, always_xy=True)


def to_metres(origin: Origin, points: Sequence[LonLat]) -> tuple[Position, ...]:
    """Metres east and north of the origin, to the millimetre."""
    if not points:
        return ()
    lon, lat = np.array(points).T
    x, y = _projection(origin.lat, origin.lon).transform(lon, lat)
    return tuple(zip(np.round(x, 3).tolist(), np.round(y, 3).tolist(), strict=True))


def to_degrees(origin: Origin, points: Iterable[Position]) -> list[LonLat]:
    """Longitude and latitude of points, to a tenth of a millimetre: the way back is exact to the millimetre."""
    rows = np.array(list(points), dtype=float)
    if not len(rows):
        return []
    lon, lat = _projection(origin.lat, origin.lon).transform(rows[:, 0], rows[:, 1], direction="INVERSE")
    return list(zip(np.round(lon, 9).tolist(), np.round(lat, 9).tolist(), strict=True))
