"""Electrodes in one and two layers: closed forms, limits, reciprocity, and a solution on a grid."""

import math
import time

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import sparse
from scipy.sparse.linalg import spsolve

from adze.core.soil.earth import EarthError, RodField, rod_ohm
from adze.core.soil.electrodes import Buried, Field, Layers, buried_plate, slanted_rod

THICK = 0.016


def rod(x: float = 0.0, y: float = 0.0, length: float = 2.0) -> Buried:
    return Buried((x, y, 0.0), (x, y, length), THICK)


def row(count: int, spacing: float = 3.0) -> tuple[Buried, ...]:
    return tuple(rod(spacing * i) for i in range(count))


def on_a_grid(layers: Layers, length: float) -> tuple[float, float]:
    """Ohms of one upright rod, and rise at the surface 3 m away per amp, by finite volumes round its axis.

    Nodes by radius and depth, finer toward the rod; the outermost are held at what a point in the lower
    soil gives there. The current is the sum over the rod's own nodes.
    """
    radius = THICK / 2
    r = np.concatenate([[radius], radius * np.geomspace(1.3, 400 / radius, 75)])
    fine = np.linspace(0, length * 1.2, 72)
    z = np.concatenate([fine, length * 1.2 + np.geomspace(0.06, 400, 45)])
    nr, nz = len(r), len(z)
    lower = layers.lower_ohm_m or layers.upper_ohm_m
    edge_r = np.concatenate([[r[0]], (r[1:] + r[:-1]) / 2, [r[-1]]])
    edge_z = np.concatenate([[0], (z[1:] + z[:-1]) / 2, [z[-1]]])
    # Conductance of each slice: the share of its thickness in each layer.
    above = np.clip(np.minimum(edge_z[1:], layers.depth_m) - edge_z[:-1], 0, None)
    whole = np.diff(edge_z)
    along = (above / layers.upper_ohm_m + (whole - above) / lower) / whole
    number = np.arange(nr * nz).reshape(nr, nz)
    rows, columns, values = [], [], []

    def link(a: np.ndarray, b: np.ndarray, g: np.ndarray) -> None:
        for i, j, v in ((a, a, g), (b, b, g), (a, b, -g), (b, a, -g)):
            rows.append(i.ravel()), columns.append(j.ravel()), values.append(v.ravel())

    out = 2 * math.pi * (whole * along)[None, :] / np.log(r[1:] / r[:-1])[:, None]
    link(number[:-1], number[1:], out)
    up = np.where(z[:-1] >= layers.depth_m, lower, layers.upper_ohm_m)
    crossing = (z[:-1] < layers.depth_m) & (z[1:] > layers.depth_m)
    part = np.where(crossing, (layers.depth_m - z[:-1]) / np.diff(z), 1.0) if math.isfinite(layers.depth_m) else 1.0
    through = np.diff(z) * np.where(crossing, part * layers.upper_ohm_m + (1 - part) * lower, up)
    down = math.pi * np.diff(edge_r**2)[:, None] / through[None, :]
    link(number[:, :-1], number[:, 1:], down)
    size = nr * nz
    matrix = sparse.csr_matrix((np.concatenate(values), (np.concatenate(rows), np.concatenate(columns))), (size, size))
    metal = number[0, z <= length]
    far = np.unique(np.concatenate([number[-1], number[:, -1]]))
    held = np.concatenate([metal, far])
    v = np.zeros(size)
    v[metal] = 1.0
    for _ in range(3):
        free = np.setdiff1d(np.arange(size), held)
        v[free] = spsolve(matrix[free][:, free].tocsc(), -matrix[free][:, held] @ v[held])
        amps = float((matrix @ v)[metal].sum())
        v[far] = lower * amps / (2 * math.pi * np.hypot(r[far // nz], z[far % nz]))
    return 1 / amps, float(np.interp(3.0, r, v[number[:, 0]])) / amps


@pytest.mark.parametrize(
    "layers",
    [Layers(100), Layers(100, 1.0, 1000), Layers(400, 0.7, 50), Layers(100, 3.0, 2000), Layers(50, 1.5, 5000)],
)
def test_one_rod_is_what_a_grid_says(layers: Layers) -> None:
    ohm, rise = on_a_grid(layers, 2.0)
    field = Field((rod(),), layers)
    assert field.ohm == pytest.approx(ohm, rel=0.02)
    assert float(field.surface_ohm(np.array([[3.0, 0.0]]))[0]) == pytest.approx(rise, rel=0.02)


def test_closed_forms_of_rods_and_rows() -> None:
    assert Field((rod(),), Layers(100)).ohm == pytest.approx(rod_ohm(100, 2, THICK), rel=0.01)
    for count in (3, 10):
        assert Field(row(count), Layers(100)).ohm == pytest.approx(RodField.row(count, 3, 2, THICK).ohm(100), rel=0.01)


def test_a_wire_in_a_trench_is_dwight_s() -> None:
    half, deep, thick = 10.0, 0.5, 0.0025
    s = 2 * deep
    dwight = (
        100
        / (4 * math.pi * half)
        * (math.log(4 * half / (thick / 2)) + math.log(4 * half / s) - 2 + s / (2 * half) - (s / half) ** 2 / 16)
    )
    assert Field((Buried((-half, 0, deep), (half, 0, deep), thick),), Layers(100)).ohm == pytest.approx(
        dwight, rel=0.02
    )


def test_a_plate_is_a_little_better_than_its_disc_on_the_surface_and_worse_than_twice_it() -> None:
    # A flat disc of the same area deep in even soil has rho / (8 a); at the surface rho / (4 a).
    radius = math.sqrt(1 / math.pi)
    ohm = Field(buried_plate(1.0, 0.6), Layers(100)).ohm
    assert 100 / (8 * radius) < ohm < 100 / (4 * radius)
    deep = Field(buried_plate(1.0, 60.0), Layers(100)).ohm
    assert deep == pytest.approx(100 / (8 * radius), rel=0.05)


@settings(max_examples=20)
@given(st.floats(0.3, 4), st.floats(20, 2000))
def test_two_equal_layers_are_one(depth: float, rho: float) -> None:
    assert Field((rod(),), Layers(rho, depth, rho * 1.0001)).ohm == pytest.approx(
        Field((rod(),), Layers(rho)).ohm, rel=0.01
    )


@settings(max_examples=15)
@given(st.floats(0.2, 6), st.floats(5, 5000), st.floats(1, 60), st.floats(1, 60))
def test_who_raises_whom_is_the_same_both_ways(depth: float, lower: float, x: float, y: float) -> None:
    field = Field((rod(), rod(x, y, 1.2)), Layers(100, depth, lower))
    bounds = [Field((rod(),), Layers(rho)).ohm for rho in sorted((100, lower))]
    assert 0.3 * bounds[0] < field.ohm < 1.05 * bounds[1]
    assert field.shares.sum() == pytest.approx(1)
    assert (field.shares > 0).all()


def test_long_wires_under_a_skin_of_other_soil_are_those_of_the_soil_they_lie_in() -> None:
    wires = tuple(Buried((30.0 * i, 0, 0.4), (30.0 * (i + 1), 0, 0.4), 0.0025) for i in range(20))
    skin, even = Field(wires, Layers(1400, 0.1, 100)), Field(wires, Layers(100))
    assert skin.ohm == pytest.approx(even.ohm, rel=0.08)


def test_far_away_the_lower_soil_decides() -> None:
    field = Field(row(3), Layers(100, 1.0, 1000))
    rise = float(field.surface_ohm(np.array([[1000.0, 0.0]]))[0])
    assert rise == pytest.approx(1000 / (2 * math.pi * 1000), rel=0.02)


def test_the_layered_forms_meet_where_the_rod_just_passes_through() -> None:
    inside, through = (Field((rod(),), Layers(100, depth, 1000)).ohm for depth in (2.0, 1.99))
    assert through == pytest.approx(inside, rel=0.02)


def test_rock_below_loam_is_far_worse_than_the_average_says() -> None:
    average = rod_ohm(2 / (1 / 100 + 1 / 1000), 2, THICK)
    assert Field((rod(),), Layers(100, 1, 1000)).ohm > 1.2 * average


def test_deeper_conductive_soil_always_costs() -> None:
    ohms = [Field((rod(),), Layers(400, depth, 60)).ohm for depth in (0.3, 0.8, 1.4, 2.5, 5)]
    assert ohms == sorted(ohms)


def test_slanting_costs_little_in_even_soil_and_pays_over_rock() -> None:
    upright, leaning = (Field((slanted_rod(2, THICK, lean),), Layers(100)).ohm for lean in (0, 60))
    assert 1.02 < leaning / upright < 1.12
    over_rock = [Field((slanted_rod(2, THICK, lean),), Layers(100, 1.1, 5000)).ohm for lean in (0, 60)]
    assert over_rock[1] < 0.9 * over_rock[0]


def test_a_film_lies_in_series_with_a_lone_rod() -> None:
    film = Buried((0, 0, 0), (0, 0, 2), THICK, 25.0)
    assert Field((film,), Layers(100)).ohm == pytest.approx(Field((rod(),), Layers(100)).ohm + 25, rel=0.01)


def test_a_second_layer_costs_little_time() -> None:
    def took(layers: Layers) -> float:
        start = time.process_time()
        assert Field(row(60), layers).ohm > 0
        return time.process_time() - start

    # Ratios of one run: the bench holds sixty rods in two layers to 50 ms.
    even, two = (min(took(layers) for _ in range(5)) for layers in (Layers(100), Layers(100, 1.0, 1000)))
    assert two < 8 * even


@pytest.mark.parametrize(
    ("make", "says"),
    [
        (lambda: slanted_rod(2, THICK, 90), "degrees_from_vertical"),
        (lambda: Buried((0, 0, -1), (0, 0, 1), THICK), "above ground"),
        (lambda: Buried((0, 0, 1), (0, 0, 1), THICK), "shorter than it is thick"),
        (lambda: Buried((0, 0, 0), (0, 0, 1), THICK, -1), "series_ohm"),
        (lambda: Layers(100, 0, 50), "depth_m"),
        (lambda: Layers(0), "upper_ohm_m"),
        (lambda: Layers(100, 1.0), "both a depth and a lower soil"),
        (lambda: Field((), Layers(100)), "count is 0"),
        (lambda: Field((rod(), rod(0.005)), Layers(100)), "one hole"),
    ],
)
def test_what_has_no_meaning_is_refused_by_name(make: object, says: str) -> None:
    with pytest.raises(EarthError, match=says):
        make()  # type: ignore[operator]
