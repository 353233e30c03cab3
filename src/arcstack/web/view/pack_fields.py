"""Fields of a spring pack, the fitted one or one in a slot."""

from arcstack.document import Build
from arcstack.units import System
from arcstack.web.view.layout import BY_NAME, CANDIDATE_GROUPS
from arcstack.web.view.rows import FieldGroup, field_row


def pack_groups(build: Build, side: str, slot: int, system: System) -> list[FieldGroup]:
    """The groups of a slot's fields; slot 0 is the fitted pack."""
    groups = CANDIDATE_GROUPS if slot else BY_NAME["springs"].groups
    base = f"{side}.candidates.{slot}." if slot else f"{side}."
    return [
        FieldGroup(g.title, g.part, g.help, [field_row(build, base + path, system) for path in g.paths]) for g in groups
    ]
