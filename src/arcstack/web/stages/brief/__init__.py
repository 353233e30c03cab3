"""What the engine is for, the engine itself, the head and its job, and what is not there."""

from arcstack.web.kit.stage import Group, Stage, under
from arcstack.web.stages.brief.page import blueprint, content

STAGE = Stage(
    "brief",
    "Brief",
    10,
    (
        Group(
            "Head and job",
            (
                "job.customer",
                "job.number",
                "job.received",
                "job.due",
                "head.number",
                "head.stamped",
                "head.marks",
                "head.casting",
                "head.date_code",
                "head.bank",
                "head.cylinders",
                "head.owner",
            ),
        ),
        Group(
            "Speeds and use",
            (*under("brief", "use", "usual_speed", "peak_speed", "limiter", "overspeed"), "engine.cranking_speed"),
        ),
        Group(
            "Boost and fuel",
            under("brief", "boost", "back_pressure", "pulse_peak", "back_pressure_ratio", "opening_pressure", "fuel"),
            help="Back pressure is rarely measured. Left empty it is assumed, and says so.",
        ),
        Group(
            "Engine",
            under(
                "engine",
                "code",
                "cylinders",
                "banks",
                "valves_per_cylinder",
                "firing_order",
                "follower",
                "bore",
                "stroke",
                "rod",
                "pin_offset",
                "rod_material",
            ),
        ),
        Group("Block and head", under("engine", "deck", "gasket", "milling")),
    ),
    (("engine.displacement", ""), ("turbo.weakest", "")),
    show=content,
    judged=False,
    blueprint=blueprint,
)
