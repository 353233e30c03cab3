"""Every check by its id: what it is called, where it is worked on, and what it asks."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType


@dataclass(frozen=True)
class Check:
    id: str
    title: str
    stage: str
    about: str


_ROWS = (
    Check("lift.net", "Net lift", "cam", "Lift the valve sees, lobe × ratio − lash, is plausible for its head."),
    Check(
        "cam.card",
        "Cam card",
        "cam",
        "Events, duration, centreline and printed lift agree, and a smooth lobe meets them.",
    ),
    Check("cam.lift_shortfall", "Lift shortfall", "cam", "Lift that flex takes away, measured at the valve."),
    Check("cam.ramp", "Ramp at the lash", "cam", "Speed of the valve where the lash is taken up, at the limiter."),
    Check("cam.asymmetry", "Asymmetry", "cam", "How far the point of maximum lift lies from the centreline."),
    Check("follower.edge_margin", "Bucket edge", "cam", "Crown left outside the contact line's farthest corner."),
    Check(
        "follower.radius_of_curvature",
        "Lobe radius",
        "cam",
        "Least radius of curvature of the lobe, under the follower that is fitted.",
    ),
    Check("follower.contact_pressure.nose", "Pressure, nose", "cam", "Contact pressure on the nose at cranking speed."),
    Check(
        "follower.contact_pressure.flank",
        "Pressure, lobe",
        "cam",
        "Worst pressure along the lobe to overspeed.",
    ),
    Check("follower.tip_sweep", "Tip sweep", "cam", "Sweep of a finger's tip across the stem."),
    Check("timing.overlap", "Overlap", "cam", "Crank degrees with both valves 1 mm open, phasers at their most."),
    Check("stack.installed_height", "Installed height", "stack", "The outer spring stands at its target height."),
    Check(
        "spring.seat_load", "Seat load", "stack", "Load of the pack with the valve closed lies in the practice's band."
    ),
    Check("spring.open_load", "Open load", "stack", "Load of the pack at full net lift lies in the practice's band."),
    Check("spring.reserve.outer", "Outer reserve", "stack", "Travel the outer spring has left before it goes solid."),
    Check("spring.reserve.inner", "Inner reserve", "stack", "Travel the inner spring has left before it goes solid."),
    Check(
        "spring.reserve_ceiling",
        "Reserve ceiling",
        "springs",
        "Reserve past which a spring is long for its lift and free to surge.",
    ),
    Check(
        "spring.rate_consistency",
        "Springs as stated",
        "springs",
        "Loads, rate, free length, table and wire of a spring agree with each other.",
    ),
    Check("spring.stress.outer", "Stress, outer", "springs", "Wahl shear of the outer spring's wire at full lift."),
    Check("spring.stress.inner", "Stress, inner", "springs", "Wahl shear of the inner spring's wire at full lift."),
    Check("spring.fatigue", "Fatigue", "springs", "The worse spring's safety against the Goodman line of its wire."),
    Check("spring.surge_order", "Surge order", "springs", "Surge frequency ÷ cam frequency at the limiter."),
    Check("spring.nest_gap", "Between springs", "springs", "Radial gap between outer and inner spring."),
    Check("stack.retainer_seal", "Retainer to seal", "stack", "Gap between retainer and seal at full lift."),
    Check(
        "control.separation",
        "Separation",
        "control",
        "Speed at which the spring no longer holds the follower to the lobe.",
    ),
    Check(
        "control.force_reserve",
        "Force reserve",
        "control",
        "Closing force over what inertia needs at the limiter, where it is least.",
    ),
    Check("control.overspeed", "Held at overspeed", "control", "Contact force left on the lobe at overspeed."),
    Check(
        "control.elastic_separation",
        "Elastic separation",
        "control",
        "Speed at which flex and surge part valve and cam.",
    ),
    Check(
        "control.seating_velocity", "Seating", "control", "Speed with which the valve meets its seat, at rated speed."
    ),
    Check("control.bounce", "Bounce", "control", "Lift of the valve after it has seated, at the limiter."),
    Check(
        "control.nose_pressure", "Nose, usual speed", "control", "Pressure that the springs keep on the nose all day."
    ),
    Check("control.friction", "Friction", "control", "Power one valve costs at the usual speed."),
    Check(
        "gas.boost_rule", "Boost rule", "control", "Seat load over the usual figure and gauge pressure × valve area."
    ),
    Check(
        "gas.difference_rule",
        "Difference rule",
        "control",
        "Seat load over the usual figure and the worst net gas force.",
    ),
    Check("valve.to_valve", "Valve to valve", "clearance", "Closest approach of the two heads through overlap."),
    Check(
        "piston.clearance", "Piston, parked", "clearance", "Least gap between valve and piston with the phaser parked."
    ),
    Check("piston.clearance_swept", "Piston, phased", "clearance", "Least gap over the phaser's whole range."),
)

CHECKS: Mapping[str, Check] = MappingProxyType({c.id: c for c in _ROWS})
