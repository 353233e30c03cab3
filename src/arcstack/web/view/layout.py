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
    figures it works out."""

    name: str
    title: str
    groups: tuple[Group, ...]
    figures: tuple[tuple[str, str], ...] = ()


def _under(prefix: str, *names: str) -> tuple[str, ...]:
    return tuple(f"{prefix}.{n}" for n in names)


_SPRING = (
    "code", "height_1", "load_1", "height_2", "load_2", "rate", "free_length", "solid", "mass", "outside", "wire",
    "coils",
)  # fmt: skip

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
                    "valves_per_cylinder",
                    "follower",
                    "stroke",
                    "rod",
                    "pin_offset",
                    "rod_material",
                ),
            ),
            Group("Block and head", _under("engine", "deck", "gasket", "milling")),
        ),
    ),
    Stage(
        "cam",
        "Cam",
        (
            Group(
                "Lift",
                _under(
                    "cam", "code", "lobe_lift", "valve_lift", "ratio", "lash", "lash_hot", "base_circle", "lobe_width"
                ),
            ),
            Group(
                "Durations",
                tuple(f"cam.duration_{i}.{n}" for i in (1, 2, 3) for n in ("check_lift", "duration", "place")),
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
                    "stack.bucket",
                    "shimming",
                    "materials",
                    "offset",
                    "ratio_from",
                    "ratio_table",
                    "arm",
                    "arm_height",
                    "pad_arm",
                    "pad_height",
                ),
                help="Offset is a bucket’s; ratio and arms are a finger’s or rocker’s.",
            ),
            Group("Drive", _under("engine", "sprocket_teeth", "drive_pitch")),
            Group("Measured curve", _under("cam", "hand")),
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
                _under("stack", "open_height", "height_basis", "shim_1", "shim_2", "shim_3", "target_height"),
                "shims",
            ),
            Group("Valve", _under("stack.valve", "code", "head", "stem", "mass", "groove_offset"), "valve"),
            Group("Outer spring", ("stack.pack", *_under("stack.outer", *_SPRING)), "outer"),
            Group("Inner spring", _under("stack.inner", *_SPRING), "inner"),
            Group("Retainer", _under("stack.retainer", "code", "step", "depth", "offset", "mass"), "retainer"),
            Group("Locks", _under("stack.locks", "code", "offset", "mass"), "locks"),
            Group("Seat or locator", _under("stack.locator", "code", "thickness", "step"), "locator"),
            Group("Seal", _under("stack", "seal_height"), "seal"),
            Group("Follower", _under("stack.bucket", "code", "diameter", "mass", "shim_mass"), "bucket"),
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
        "control",
        "Control",
        (
            Group("Speeds", _under("brief", "limiter", "overspeed")),
            Group(
                "Pressures",
                _under("brief", "boost", "back_pressure", "pulse_peak", "back_pressure_ratio"),
                help="Move the back pressure and watch both rules answer.",
            ),
            Group("Seat load without boost", _under("stack", "usual_load")),
        ),
        (
            ("control.separation_alone", "Separation"),
            ("control.separation_gas", "Separation"),
            ("control.reserve_limiter", "Separation"),
            ("control.reserve_overspeed", "Separation"),
            ("spring.moving_mass", "Separation"),
            ("spring.rate", "Separation"),
            ("gas.back_pressure", "Gas"),
            ("gas.pulse_peak", "Gas"),
            ("gas.usual_load", "Gas"),
            ("gas.boost_rule_force", "Gas"),
            ("gas.difference_force", "Gas"),
            ("spring.seat_load", "Gas"),
        ),
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
    for stage in STAGES:
        if any(tail in group.paths for group in stage.groups):
            return stage.name
    return "brief"
