"""What the verdicts of a head still wait for."""

from arcstack.assess import elastic
from arcstack.assess.context import Context, MissingInput
from arcstack.dynamics.question import Question
from arcstack.errors import CurveConflict


def questions(ctx: Context) -> list[Question]:
    """The sweeps that the verdicts of both sides rest on, this side's first, where they can be asked."""
    found = []
    for each in (ctx, ctx.other):
        try:
            found.append(elastic.question(each))
        except (MissingInput, CurveConflict):
            continue
    return found
