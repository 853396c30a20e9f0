"""Every stage's page, in the order practitioners work."""

from adze.core.plan.stages import Stage
from adze.web.stages import build, earth, ground, log, parts, power, stock, strands, trace, volts
from adze.web.stages.page import StagePage

STAGE_PAGES: dict[Stage, StagePage] = {
    module.PAGE.stage: module.PAGE for module in (stock, ground, strands, power, earth, volts, parts, build, log, trace)
}
