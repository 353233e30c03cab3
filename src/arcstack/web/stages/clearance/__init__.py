"""Valve to piston, valve to valve, and what timing does to them."""

from arcstack.web.kit.stage import OUTPUTS, Group, Stage, Swap, under
from arcstack.web.stages.clearance.page import blueprint
from arcstack.web.stages.clearance.view import content

STAGE = Stage(
    "clearance",
    "Clearance",
    70,
    (
        Group("Measured", under("clearance", "valve_angle", "drop_at_tdc", "floor")),
        Group(
            "Or estimated from",
            ("engine.deck", "engine.gasket", *under("clearance", "recess", "pocket", "crown"), "engine.milling"),
            help="Used while the drop is not measured. A cut lowers a measured drop too.",
        ),
        Group("Valve to valve", ("engine.valve_spacing",)),
        Group(
            "Phaser", under("cam", "phaser_limit", "phaser_held"), help="A limit counts once it is said what keeps it."
        ),
        Group(
            "At speed",
            under(
                "engine",
                "reciprocating",
                "rod_section",
                "rod_stretch",
                "pin_clearance",
                "bearing_clearance",
                "growth",
            ),
            help="What is taken from the gap hot at overspeed; typical figures are assumed while these are empty.",
        ),
    ),
    (
        ("piston.drop", "Cold"),
        ("piston.parked", "Cold"),
        ("piston.swept", "Cold"),
        ("piston.permitted", "Cold"),
        ("piston.stretch", "Hot at overspeed"),
        ("piston.bearings", "Hot at overspeed"),
        ("piston.float", "Hot at overspeed"),
        ("piston.running", "Hot at overspeed"),
    ),
    show=content,
    swaps=(
        OUTPUTS,
        Swap("chart", "clearance/_chart.html"),
        Swap("tight", "clearance/_tight.html"),
        Swap("look", "clearance/_look.html"),
        Swap("budget", "clearance/_budget.html"),
    ),
    blueprint=blueprint,
)
