"""Valve to piston, valve to valve, and what timing does to them."""

from arcstack.web.kit.stage import OUTPUTS, Group, Stage, Swap, under
from arcstack.web.stages.clearance.page import blueprint
from arcstack.web.stages.clearance.view import content

STAGE = Stage(
    "clearance",
    "Clearance",
    70,
    (
        Group("Measured", under("clearance", "valve_angle", "drop_at_tdc")),
        Group(
            "Or estimated from",
            ("engine.deck", "engine.gasket", "clearance.recess", "clearance.pocket", "engine.milling"),
            help="Used while the drop is not measured. A cut lowers a measured drop too.",
        ),
        Group("Valve to valve", ("engine.valve_spacing",)),
    ),
    (("piston.drop", ""), ("piston.parked", ""), ("piston.swept", "")),
    show=content,
    swaps=(OUTPUTS, Swap("chart", "clearance/_chart.html")),
    blueprint=blueprint,
)
