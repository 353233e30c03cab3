"""What the verdicts of a head still wait for."""

from dataclasses import dataclass

from arcstack.assess import elastic
from arcstack.assess.context import Context
from arcstack.dynamics.question import Question
from arcstack.errors import NotKnown


@dataclass(frozen=True)
class Ask:
    """One side's sweep."""

    ctx: Context
    question: Question


def questions(ctx: Context) -> list[Ask]:
    """The sweeps that the verdicts of both sides rest on, this side's first, where they can be asked."""
    found = []
    for each in (ctx, ctx.other):
        try:
            found.append(Ask(each, elastic.question(each)))
        except NotKnown:
            continue
    return found
