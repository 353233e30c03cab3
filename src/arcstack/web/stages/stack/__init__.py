"""The parts on one valve's axis, drawn to scale."""

from arcstack.web.kit.stage import OUTPUTS, Group, Stage, Swap, under
from arcstack.web.stages.stack.view import blueprint, content

_SPRING = (
    "code", "height_1", "load_1", "height_2", "load_2", "rate", "free_length", "solid", "mass", "outside", "wire",
    "coils",
)  # fmt: skip

STAGE = Stage(
    "stack",
    "Stack",
    30,
    (
        Group(
            "Height and shims",
            under("stack", "open_height", "height_basis", "shims.1", "target_height"),
            "shims",
        ),
        Group("Valve", under("stack.valve", "code", "head", "stem", "mass", "groove_offset"), "valve"),
        Group("Outer spring", ("stack.pack", *under("stack.outer", *_SPRING)), "outer"),
        Group("Inner spring", under("stack.inner", *_SPRING), "inner"),
        Group("Retainer", under("stack.retainer", "code", "step", "depth", "offset", "mass"), "retainer"),
        Group("Locks", under("stack.locks", "code", "offset", "mass"), "locks"),
        Group("Seat or locator", under("stack.locator", "code", "thickness", "step"), "locator"),
        Group("Seal", under("stack", "seal_height"), "seal"),
        Group("Follower", under("follower", "code", "diameter", "mass", "shim_mass"), "bucket"),
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
    show=content,
    swaps=(OUTPUTS, Swap("section", "stack/_section.html"), Swap("scrubber", "stack/_scrubber.html")),
    blueprint=blueprint,
)
