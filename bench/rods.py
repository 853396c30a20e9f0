"""Rules of thumb beside the computed count: docs/rods.md is written anew by `python -m bench.rods`."""

from pathlib import Path

from adze.core.advice.earth_here import EarthHere
from adze.core.advice.schools import RodSchool, rod_schools
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.tables.energizers import energizers
from adze.core.tables.ground import soils

_UNITS = ("mains_1", "mains_3", "mains_6", "mains_15", "mains_25")
_SOILS = ("wet_clay", "clay_loam", "loam", "sandy_loam")
_KEYS = ("metres", "pairs", "stored", "steps", "eight", "two", "one")
_LINE = [{"id": "line1", "name": "Line", "points": [[0, 0], [1200, 0]]}]


def _plan(unit: str, soil: str) -> Plan:
    strands = [{"cm": cm} for cm in (25, 50, 80, 110)]
    base = {"name": "Rods", "runs": _LINE, "strands": strands, "grass": "moderate", "energizer_at": [-5, -5]}
    return Plan.model_validate(base | {"energizer": unit, "soil": soil, "rods": {"count": 3, "length_m": 2.0}})


def _needed(plan: Plan) -> str:
    """The fewest rods whose test passes in the driest week."""
    counts = EarthHere(replaced(plan, rods=replaced(plan.rods, count=57))).counts()
    limit = next((c.count for c in counts if c.test_kv <= 0.5), None)
    return str(limit) if limit else "over 60"


def main() -> None:
    """Write the table."""
    rows = []
    heads: dict[str, RodSchool] = {}
    for key in _UNITS:
        unit = energizers()[key]
        schools = {s.key: s for s in rod_schools(unit, 2.0, well_drained=False)}
        heads |= schools
        counts = [str(schools[k].count or "-") for k in _KEYS]
        needs = [_needed(_plan(key, soil)) for soil in _SOILS]
        rows.append(f"| {unit.label} | {' | '.join(counts)} | {' | '.join(needs)} |")
    names = " | ".join(f"({chr(97 + i)})" for i in range(len(_KEYS)))
    grounds = " | ".join(soils()[s].label.lower() for s in _SOILS)
    told = "\n".join(f"- ({chr(97 + i)}) {heads[k].says}. {heads[k].reason}" for i, k in enumerate(_KEYS))
    text = f"""# Rods: rules of thumb beside the computed count

Rods of 2 m, 3 m apart, for 1.2 km of four strands in grass to 30 cm. To the left how many each rule asks, to the
right how many bring the earth test to 0.5 kV in the driest week, by the model. Written by `python -m bench.rods`.

| energizer | {names} | {grounds} |
|---|{"---|" * (len(_KEYS) + len(_SOILS))}
{chr(10).join(rows)}

{told}

**Where they part.** The rules go by joules; the test goes by ohms, and ohms by soil. They fit wet clay: there the
model asks for about what (a), (b) and (d) say. On clay loam the dry test asks for two to three times as many, on
sandy loam for ten times and more than stand in any row. A larger energizer wants more, as the rules say, but about
half as many as in proportion. Past some seven rods in a row each next one takes off less than a tenth: then longer
rods, clay in the bore, bare wire between them, damper ground or earth strands buy more than another rod. The panel
shows both: the ohms, and what they cost in kV.
"""
    Path(__file__).parent.parent.joinpath("docs", "rods.md").write_text(text, encoding="utf-8")


if __name__ == "__main__":
    main()
