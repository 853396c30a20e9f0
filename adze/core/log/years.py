"""How each point of the fence stood year by year: the middle and the least of what was read there."""

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Protocol

SAME_POINT_M = 15.0  # readings nearer than this are of one point


class OfPoint(Protocol):
    """Whatever was read at a place of a strand."""

    @property
    def run(self) -> str:
        """Its line."""

    @property
    def at_m(self) -> float:
        """Metres out."""

    @property
    def strand(self) -> int:
        """Its strand, from the ground up."""


def is_one_point(one: OfPoint, other: OfPoint) -> bool:
    """Whether two readings are of one point: the same line and strand, nearer than 15 m."""
    return (one.run, one.strand) == (other.run, other.strand) and abs(one.at_m - other.at_m) < SAME_POINT_M


@dataclass(frozen=True)
class YearRead:
    """One reading for it: line, metres out, strand, year, kV."""

    run: str
    at_m: float
    strand: int
    year: int
    kv: float


@dataclass(frozen=True)
class PointYear:
    """A point's year: how many readings, their middle and the least, kV."""

    count: int
    middle_kv: float
    least_kv: float


@dataclass(frozen=True)
class PointYears:
    """A point with its years, the first year first; it is named by its newest reading's place."""

    run: str
    at_m: float
    strand: int
    years: tuple[tuple[int, PointYear], ...]

    @property
    def change_kv(self) -> float | None:
        """The middle of the last year less that of the year before it, kV; None with one year alone."""
        return self.years[-1][1].middle_kv - self.years[-2][1].middle_kv if len(self.years) > 1 else None


def by_years(reads: Sequence[YearRead]) -> tuple[PointYears, ...]:
    """Every point with its years, in the order in which the points come; the newest reading comes first."""
    points: list[list[YearRead]] = []
    for read in reads:
        own = next((rows for rows in points if is_one_point(rows[0], read)), None)
        if own is None:
            points.append([read])
        else:
            own.append(read)
    found = []
    for rows in points:
        years = tuple((year, _year(rows, year)) for year in sorted({row.year for row in rows}))
        found.append(PointYears(rows[0].run, rows[0].at_m, rows[0].strand, years))
    return tuple(found)


def _year(rows: Sequence[YearRead], year: int) -> PointYear:
    kv = [row.kv for row in rows if row.year == year]
    return PointYear(len(kv), median(kv), min(kv))
