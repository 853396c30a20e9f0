"""What Earth shows."""

from datetime import date
from typing import Any

from adze.core.build.rods import soil_words
from adze.core.forecast.earth_test import TEST_SCHOOLS
from adze.core.plan.season import Season, Weather, soil_ohm_m
from adze.core.tables.ground import rod_metals, soils
from adze.services.answers.earth import cut_list, lead_words
from adze.services.log.earth_tests import test_rows, tests_due
from adze.services.views.base import ViewRequest
from adze.store.log.earth_tests import list_earth_tests


def earth_stage_view(asked: ViewRequest) -> dict[str, Any]:
    """Soil, rods, what to cut, the kept tests and which are due."""
    plan, judged = asked.plan, asked.judged
    with asked.begin_transaction() as connection:
        tests = list_earth_tests(connection, plan_id=asked.opened.id)
    return {
        "kept": test_rows(tests, plan.earth_school),
        "due": tests_due(tests, date.today()),
        "soils": soils(),
        "metals": rod_metals(),
        "test_schools": TEST_SCHOOLS,
        "soil_words": soil_words(plan),
        "cuts": cut_list(plan),
        "lead_words": lead_words(plan),
        "ohms": {season: v.rods_ohm for season, v in judged.volts.items()},
        "soil_ohm_m": {season: soil_ohm_m(plan, Weather(season)) for season in Season},
    }
