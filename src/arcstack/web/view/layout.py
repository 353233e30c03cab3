"""Which fields and figures stand on which stage, and in which groups."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Group:
    """A heading and its fields; ``part`` ties the group to a part of the drawing."""

    title: str
    paths: tuple[str, ...]
    part: str = ""
    help: str = ""


@dataclass(frozen=True)
class Stage:
    """A stage: its fields by group (paths within the side unless they start with brief. or engine.), and the
    figures it works out; ``under`` names the stage it is a part of."""

    name: str
    title: str
    groups: tuple[Group, ...]
    figures: tuple[tuple[str, str], ...] = ()
    under: str = ""


def _under(prefix: str, *names: str) -> tuple[str, ...]:
    return tuple(f"{prefix}.{n}" for n in names)


_SPRING = (
    "code", "height_1", "load_1", "height_2", "load_2", "rate", "free_length", "solid", "mass", "outside", "wire",
    "coils",
)  # fmt: skip

_SPRING_IN_FULL = (
    "code", "shape", "height_1", "load_1", "height_2", "load_2", "rate", "free_length", "table", "table_from", "solid",
    "mass", "outside", "outside_top", "wire", "coils", "active", "wound",
)  # fmt: skip

CANDIDATE_GROUPS = (
    Group("Pack", ("name", "pack", "advised", "price", "damping", "friction", "damper_thickness")),
    Group("Outer spring", _under("outer", *_SPRING_IN_FULL)),
    Group("Inner spring", _under("inner", *_SPRING_IN_FULL)),
    Group("Its own retainer", ("retainer_step", "retainer_offset", "retainer_mass")),
)
"""Fields of a pack that could be fitted, within its slot."""

STAGES: tuple[Stage, ...] = (
    Stage(
        "brief",
        "Brief",
        (
            Group(
                "Speeds and use",
                (*_under("brief", "use", "usual_speed", "peak_speed", "limiter", "overspeed"), "engine.cranking_speed"),
            ),
            Group(
                "Boost and fuel",
                _under(
                    "brief", "boost", "back_pressure", "pulse_peak", "back_pressure_ratio", "opening_pressure", "fuel"
                ),
                help="Back pressure is rarely measured. Left empty it is assumed, and says so.",
            ),
            Group(
                "Engine",
                _under(
                    "engine",
                    "code",
                    "cylinders",
                    "banks",
                    "valves_per_cylinder",
                    "follower",
                    "stroke",
                    "rod",
                    "pin_offset",
                    "rod_material",
                ),
            ),
            Group("Block and head", _under("engine", "deck", "gasket", "milling")),
            Group("Head and job", ("head.marks", "head.casting", "head.bank", "job.customer", "job.number")),
        ),
    ),
    Stage(
        "cam",
        "Cam",
        (
            Group(
                "Lift",
                _under("cam", "code", "lobe_lift", "valve_lift", "lash", "lash_hot", "base_circle", "lobe_width"),
            ),
            Group(
                "Durations",
                tuple(f"cam.durations.{i}.{n}" for i in (1, 2, 3) for n in ("check_lift", "duration", "place")),
                help="One is enough; each more is met too. Say where it was taken.",
            ),
            Group(
                "Centreline and events",
                _under(
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
            Group("Phaser", _under("cam", "phaser_advance", "phaser_retard")),
            Group(
                "Follower on the lobe",
                _under(
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
                    "pad_height",
                ),
            ),
            Group("Drive", _under("engine", "sprocket_teeth", "drive_pitch")),
            Group("Measured curve", _under("cam", "curve_lash", "hand")),
        ),
        (
            ("lift.gross", ""),
            ("lift.net", ""),
            ("cam.centreline", ""),
            ("timing.overlap", ""),
            ("follower.ratio", ""),
            ("follower.eccentricity", ""),
        ),
    ),
    Stage(
        "stack",
        "Stack",
        (
            Group(
                "Height and shims",
                _under("stack", "open_height", "height_basis", "shims.1", "shims.2", "shims.3", "target_height"),
                "shims",
            ),
            Group("Valve", _under("stack.valve", "code", "head", "stem", "mass", "groove_offset"), "valve"),
            Group("Outer spring", ("stack.pack", *_under("stack.outer", *_SPRING)), "outer"),
            Group("Inner spring", _under("stack.inner", *_SPRING), "inner"),
            Group("Retainer", _under("stack.retainer", "code", "step", "depth", "offset", "mass"), "retainer"),
            Group("Locks", _under("stack.locks", "code", "offset", "mass"), "locks"),
            Group("Seat or locator", _under("stack.locator", "code", "thickness", "step"), "locator"),
            Group("Seal", _under("stack", "seal_height"), "seal"),
            Group("Follower", _under("follower", "code", "diameter", "mass", "shim_mass"), "bucket"),
        ),
        (
            ("stack.installed_height", ""),
            ("stack.inner_height", ""),
            ("spring.seat_load", ""),
            ("spring.open_load", ""),
            ("spring.rate", ""),
            ("spring.reserve.outer", ""),
            ("spring.reserve.inner", ""),
            ("stack.retainer_seal", ""),
            ("spring.moving_mass", ""),
        ),
    ),
    Stage(
        "springs",
        "Springs",
        (
            Group("Pack", _under("stack", "pack", "damping", "friction", "damper_thickness", "price")),
            Group("Outer spring", _under("stack.outer", *_SPRING_IN_FULL)),
            Group("Inner spring", _under("stack.inner", *_SPRING_IN_FULL)),
        ),
        (
            ("spring.seat_load", "Load"),
            ("spring.open_load", "Load"),
            ("spring.seat_settled", "Load"),
            ("spring.open_settled", "Load"),
            ("spring.rate", "Load"),
            ("spring.stress.seat_outer", "Stress and life"),
            ("spring.stress.outer", "Stress and life"),
            ("spring.fatigue.outer", "Stress and life"),
            ("spring.stress.seat_inner", "Stress and life"),
            ("spring.stress.inner", "Stress and life"),
            ("spring.fatigue.inner", "Stress and life"),
            ("spring.nest_gap", "Stress and life"),
            ("spring.surge.outer", "Surge"),
            ("spring.surge.inner", "Surge"),
            ("spring.surge_order", "Surge"),
            ("spring.friction", "Surge"),
        ),
        under="stack",
    ),
    Stage(
        "control",
        "Control",
        (
            Group("Speeds", _under("brief", "usual_speed", "peak_speed", "limiter", "overspeed")),
            Group(
                "Train",
                (
                    *_under("follower", "stiffness", "damping"),
                    *_under("stack", "seat_stiffness", "seat_damping", "coil_damping"),
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
    ),
    Stage(
        "boost",
        "Boost",
        (
            Group(
                "Pressures",
                _under("brief", "boost", "back_pressure", "pulse_peak", "back_pressure_ratio", "opening_pressure"),
            ),
            Group("Seat load without boost", _under("stack", "usual_load")),
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
    ),
    Stage(
        "clearance",
        "Clearance",
        (
            Group("Measured", _under("clearance", "valve_angle", "drop_at_tdc")),
            Group(
                "Or estimated from",
                ("engine.deck", "engine.gasket", "clearance.recess", "clearance.pocket", "engine.milling"),
                help="Used while the drop is not measured. A cut lowers a measured drop too.",
            ),
            Group("Valve to valve", ("engine.valve_spacing",)),
        ),
        (("piston.drop", ""), ("piston.parked", ""), ("piston.swept", "")),
    ),
)

BY_NAME = {s.name: s for s in STAGES}


def stage_of(path: str) -> str:
    """The stage on which a field (full path) is entered; brief where it is entered nowhere else."""
    tail = path.split(".", 1)[1] if path.startswith(("intake.", "exhaust.")) else path
    names = tail.split(".")
    if names[0] == "follower" and len(names) == 3:
        tail = f"follower.{names[2]}"
    if names[:2] == ["stack", "shims"]:
        tail = "stack.shims.1"
    for stage in STAGES:
        if any(tail in group.paths for group in stage.groups):
            return stage.name
    if tail.startswith("candidates."):
        return "springs"
    return "brief"
