"""Pressures, and both gas rules."""

from arcstack.web.kit.stage import OUTPUTS, Group, Stage, Swap, under
from arcstack.web.stages.boost.page import blueprint
from arcstack.web.stages.boost.view import content

STAGE = Stage(
    "boost",
    "Boost",
    60,
    (
        Group(
            "Pressures",
            under("brief", "boost", "back_pressure", "pulse_peak", "back_pressure_ratio", "opening_pressure"),
        ),
        Group("Seat load without boost", under("stack", "usual_load")),
    ),
    (
        ("gas.back_pressure", ""),
        ("gas.pulse_peak", ""),
        ("gas.usual_load", ""),
        ("spring.seat_load", ""),
        ("gas.boost_rule_force", ""),
        ("gas.difference_force", ""),
        ("gas.opening_load", ""),
    ),
    under="control",
    show=content,
    swaps=(OUTPUTS, Swap("chart", "boost/_chart.html")),
    blueprint=blueprint,
)
