"""The cam: card, measured curve, motion, events, follower on the lobe."""

from arcstack.web.kit.stage import Group, Stage, Swap, under
from arcstack.web.stages.cam.page import blueprint
from arcstack.web.stages.cam.view import content

STAGE = Stage(
    "cam",
    "Cam",
    20,
    (
        Group(
            "Lift",
            under("cam", "code", "lobe_lift", "valve_lift", "lash", "lash_hot", "base_circle", "lobe_width"),
        ),
        Group(
            "Durations",
            tuple(f"cam.durations.{i}.{n}" for i in (1, 2, 3) for n in ("check_lift", "duration", "place")),
            help="One is enough; each more is met too. Say where it was taken.",
        ),
        Group(
            "Centreline and events",
            under(
                "cam",
                "centreline",
                "centreline_means",
                "peak_offset",
                "tdc_event",
                "bdc_event",
                "event_lift",
                "event_place",
            ),
            help="Either will do; with both, the card is audited.",
        ),
        Group("Phaser", under("cam", "phaser_advance", "phaser_retard")),
        Group(
            "Follower on the lobe",
            under(
                "follower",
                "shimming",
                "materials",
                "offset",
                "ratio",
                "ratio_from",
                "ratio_table",
                "ratio_table_from",
                "meets",
                "pad_radius",
                "arm",
                "arm_height",
                "pad_arm",
                "adjuster",
                "screw_pitch",
                "screw_moves",
                "plunger_travel",
                "pad_height",
            ),
        ),
        Group(
            "Port and flow",
            under(
                "port",
                "throat",
                "volume",
                "filler",
                "flow",
                "flow_at",
                "flow_before",
                "flow_before_at",
                "lift_cap",
                "cap_reason",
            ),
            help="Flow tables of one bench, each with the depression it was taken at.",
        ),
        Group("Drive", under("engine", "sprocket_teeth", "drive_pitch", "slot_radius")),
        Group("Measured curve", under("cam", "curve_lash", "hand")),
    ),
    (
        ("lift.gross", ""),
        ("lift.net", ""),
        ("cam.centreline", ""),
        ("timing.overlap", ""),
        ("follower.ratio", ""),
        ("follower.eccentricity", ""),
        ("airflow.useful_lift", ""),
        ("airflow.throat", ""),
        ("airflow.mean_flow", ""),
    ),
    show=content,
    swaps=(Swap("outputs", "cam/_outputs.html"), Swap("chart", "cam/_chart.html")),
    blueprint=blueprint,
)
