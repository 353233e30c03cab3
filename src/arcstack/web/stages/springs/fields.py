"""Fields of a spring pack, the fitted one or one in a slot."""

from arcstack.document import Build
from arcstack.units import System
from arcstack.views.rows import FieldGroup, field_row
from arcstack.web.kit.stage import Group, under

SPRING_IN_FULL = (
    "code", "shape", "height_1", "load_1", "height_2", "load_2", "rate", "free_length", "table", "table_from", "solid",
    "mass", "outside", "outside_top", "inside_top", "inside_bottom", "wire", "coils", "active", "wound", "material",
    "finish",
)  # fmt: skip

CANDIDATE_GROUPS = (
    Group("Pack", ("name", "pack", "advised", "price", "damping", "friction", "damper_thickness")),
    Group("Outer spring", under("outer", *SPRING_IN_FULL)),
    Group("Inner spring", under("inner", *SPRING_IN_FULL)),
    Group("Its own retainer", ("retainer_step", "retainer_offset", "retainer_mass")),
)
"""Fields of a pack that could be fitted, within its slot."""

FITTED_GROUPS = (
    Group("Pack", under("stack", "name", "pack", "damping", "friction", "damper_thickness", "price")),
    Group("Outer spring", under("stack.outer", *SPRING_IN_FULL)),
    Group("Inner spring", under("stack.inner", *SPRING_IN_FULL)),
)


def pack_groups(build: Build, side: str, slot: int, system: System) -> list[FieldGroup]:
    """The groups of a slot's fields; slot 0 is the fitted pack."""
    groups = CANDIDATE_GROUPS if slot else FITTED_GROUPS
    base = f"{side}.candidates.{slot}." if slot else f"{side}."
    return [
        FieldGroup(g.title, g.part, g.help, [field_row(build, base + path, system) for path in g.paths]) for g in groups
    ]
