"""The speed the head holds to."""

from arcstack.web.kit.stage import OUTPUTS, Group, Stage, Swap, under
from arcstack.web.stages.control.page import blueprint
from arcstack.web.stages.control.view import content

STAGE = Stage(
    "control",
    "Control",
    50,
    (
        Group("Speeds", under("brief", "usual_speed", "peak_speed", "limiter", "overspeed")),
        Group(
            "Train",
            (
                *under("follower", "stiffness", "damping"),
                *under("stack", "seat_stiffness", "seat_damping", "coil_damping"),
            ),
            help="Left empty they are assumed, and what that leaves open is worked as a band.",
        ),
    ),
    (
        ("control.separation_alone", "Rigid train"),
        ("control.separation_gas", "Rigid train"),
        ("control.separation_settled", "Rigid train"),
        ("control.reserve_limiter", "Rigid train"),
        ("control.reserve_overspeed", "Rigid train"),
        ("control.least_overspeed", "Rigid train"),
        ("spring.moving_mass", "Rigid train"),
        ("elastic.separation", "Elastic train"),
        ("elastic.peak_contact", "Elastic train"),
        ("elastic.seating", "Elastic train"),
        ("elastic.bounce", "Elastic train"),
        ("elastic.load_lost", "Elastic train"),
        ("cost.nose_pressure", "What it costs"),
        ("cost.torque", "What it costs"),
        ("cost.friction", "What it costs"),
        ("cost.friction_head", "What it costs"),
    ),
    show=content,
    swaps=(
        OUTPUTS,
        Swap("limit", "control/_limit.html"),
        Swap("map-box", "control/_map.html"),
        Swap("sweep", "control/_sweep.html"),
        Swap("chart", "control/_chart.html"),
    ),
    when_turned=(
        OUTPUTS,
        Swap("limit", "control/_limit.html"),
        Swap("sweep", "control/_sweep.html"),
    ),
    blueprint=blueprint,
)
