"""The named figures: each within its range, each name known where it is used."""

from dataclasses import dataclass, replace
from itertools import pairwise
from pathlib import Path

import pytest

from adze.core.animals.touch import Level
from adze.core.tables import reader
from adze.core.tables.animals import animal_kinds, touch_classes
from adze.core.tables.construction import conductors
from adze.core.tables.energizers import energizers
from adze.core.tables.ground import grasses, landmark_kinds, soils
from adze.core.tables.prices import prices
from adze.core.verdict.judge_stock import LOSS_WORDS

ROOT = Path(__file__).parents[3]
DATA = sorted((ROOT / "adze" / "core" / "tables" / "data").glob("*.csv"))


@pytest.mark.parametrize("file", DATA, ids=lambda f: f.name)
def test_every_table_says_what_it_holds(file: Path) -> None:
    first = file.read_text().splitlines()[0]
    assert first.startswith("# ")
    assert len(first) > 50


def test_conductors_lie_within_their_ranges() -> None:
    for c in conductors().values():
        assert c.low_ohm_per_km <= c.ohm_per_km <= c.high_ohm_per_km, c.key
        assert c.relative_permeability == (150 if c.key.startswith(("steel", "strand")) else 1)
    assert len(conductors()) >= 8


def test_steel_ohms_are_those_of_its_wire() -> None:
    # Resistivity of galvanised steel 1.4 to 2.0e-7 ohm m over the cross-section.
    for c in conductors().values():
        if c.key.startswith("steel"):
            area = 3.14159 * (c.radius_mm / 1000) ** 2
            assert 1.4e-7 < c.ohm_per_km / 1000 * area < 2.0e-7, c.key


def test_soils_go_from_good_to_bad_and_lie_within_their_ranges() -> None:
    rows = list(soils().values())
    assert all(a.ohm_m < b.ohm_m for a, b in pairwise(rows))
    assert all(s.low_ohm_m < s.ohm_m < s.high_ohm_m and s.wet_factor < 1 < s.dry_factor for s in rows)


def test_growth_leaks_more_when_wet_and_when_high() -> None:
    rows = list(grasses().values())
    assert all(g.dry_s_per_m <= g.usual_s_per_m <= g.wet_s_per_m for g in rows)
    assert all(a.usual_s_per_m < b.usual_s_per_m for a, b in pairwise(rows))


def test_animals_have_a_touch_class_a_purpose_and_known_young() -> None:
    kinds = animal_kinds()
    assert len(kinds) >= 8
    for kind in kinds.values():
        assert kind.touch_class in touch_classes(), kind.key
        assert kind.purpose in ("hold", "out")
        assert not kind.young or kind.young in kinds
        assert kind.nose_cm < kind.shoulder_cm or kind.key in ("goose", "hen")
        assert not (kind.wild and kind.purpose == "hold")


def test_every_animal_has_its_own_silhouette() -> None:
    drawn = {kind.key: kind.outline_parts["body"] for kind in animal_kinds().values()}
    assert {"walker", "bird"} <= set(drawn.values())
    assert drawn["goose"] == "bird"
    with pytest.raises(ValueError, match="an outline begins with one of"):
        _ = replace(animal_kinds()["ewe"], outline="snake").outline_parts


def test_energizers_release_less_than_they_store() -> None:
    units = energizers().values()
    assert len(units) >= 8
    for unit in units:
        assert unit.released_j < unit.stored_j
        assert unit.kv_500 < unit.open_kv <= 10
        assert unit.pulse_s >= 1


def test_prices_are_for_whole_packs() -> None:
    assert all(p.pack >= 1 and p.price > 0 for p in prices().values())


@pytest.mark.parametrize(
    ("row", "says"),
    [
        ("yak,5", "tame.csv: yak lacks wild"),
        ("yak,five,no", "yak: could not"),
        ("yak,5,no,1", "yak has more"),
    ],
)
def test_a_row_that_does_not_fit_its_table_is_refused_by_name(
    row: str, says: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    @dataclass(frozen=True)
    class Kind:
        key: str
        nose_cm: float
        wild: bool

    (tmp_path / "data").mkdir()
    (tmp_path / "data" / "tame.csv").write_text(f"# Kinds.\nkey,nose_cm,wild\n{row}\n")
    monkeypatch.setattr(reader.resources, "files", lambda _: tmp_path)
    with pytest.raises(ValueError, match=says):
        reader.read_table("tame.csv", Kind)


def test_every_word_of_an_animal_is_known() -> None:
    """A word that no judge reads would be no fact."""
    for kind in animal_kinds().values():
        assert set(kind.causes.split()) <= set(LOSS_WORDS), kind.key
        assert set(kind.wants.split()) <= set(landmark_kinds()), kind.key
    for body in touch_classes().values():
        assert {body.level_new, body.level_schooled} <= set(Level)
