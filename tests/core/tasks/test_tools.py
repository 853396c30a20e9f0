"""Tools by what the work is."""

from adze.core.tasks.tools import tools_for
from tests.conftest import simple_plan


def test_tools_follow_what_the_fence_is_made_of() -> None:
    steel = tools_for(simple_plan())
    assert {"Spinning jenny", "Strainer tool", "Chisel and drill for rail pins"} <= set(steel)
    strip = tools_for(simple_plan(conductor="poly_steel_9", post="plastic"))
    assert "Reel or axle for rolls" in strip
    assert not {"Spinning jenny", "Post driver, ear muffs", "Chisel and drill for rail pins"} & set(strip)
    assert "Auger of 22 cm" in tools_for(simple_plan(end_kind="concreted"))
    assert "Trench spade" in tools_for(simple_plan(lead_out={"way": "buried"}))
