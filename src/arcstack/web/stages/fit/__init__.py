"""Whether the parts go together: each rule with both figures, and what a rule needs."""

from arcstack.web.kit.stage import Group, Stage, Swap, under
from arcstack.web.stages.fit.view import blueprint, content

STAGE = Stage(
    "fit",
    "Fit",
    35,
    (
        Group(
            "Stem",
            (
                *under("stack.valve", "lock_end", "groove", "beads", "groove_below_tip", "length", "material"),
                *under("stack.valve", "filling", "face_angle", "margin", "coating"),
                "stack.tip_proud",
            ),
            "valve",
        ),
        Group("Locks in the retainer", (
            *under("stack.locks", "stem", "groove", "beads", "taper", "outside", "above_groove", "grips"),
            *under("stack.retainer", "taper", "locks_outside", "bore"),
        ), "locks"),
        Group("Retainer", under("stack.retainer", "outer_step", "inner_step", "outside", "material"), "retainer"),
        Group("Outer spring", under("stack.outer", "inside_top", "inside_bottom", "material", "finish"), "outer"),
        Group("Inner spring", under("stack.inner", "inside_top", "inside_bottom", "material", "finish"), "inner"),
        Group(
            "Seat and locator",
            under("stack.locator", "base", "material", "spigot", "inner_spigot", "bore", "outside"),
            "locator",
        ),
        Group("Head and guide", (
            *under("stack.pocket", "metal", "diameter"),
            *under("stack.guide", "code", "outside", "height", "seal_groove", "material"),
        ), "head"),
        Group("Seal", under("stack.seal", "code", "stem", "guide", "outside", "held", "height", "material"), "seal"),
        Group("Shims", under("stack.rings", "inside", "outside", "hardened"), "shims"),
        Group("Cap and bucket", (
            *under("stack.cap", "code", "inside", "depth", "top"), *under("follower", "inside", "crown", "coating"),
        ), "bucket"),
    ),
    under="stack",
    show=content,
    swaps=(Swap("rules", "fit/_rules.html"),),
    blueprint=blueprint,
)  # fmt: skip
