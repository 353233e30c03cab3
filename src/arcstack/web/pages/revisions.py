from dataclasses import dataclass
from datetime import datetime, timedelta

from flask import Blueprint, abort, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.errors import FieldError
from arcstack.store import RevisionRow
from arcstack.web.frame.around import around
from arcstack.web.frame.turned import turned
from arcstack.web.frame.waiting import questions
from arcstack.web.kit import asked, links
from arcstack.web.kit.session import assessed, current_system, current_who, sweeps, workshop

blueprint = Blueprint("revisions", __name__, url_prefix="/builds/<int:build_id>/<side:side>/revisions")


@blueprint.get("")
def index(build_id: int, side: str) -> str:
    return _page(build_id, side)


def _page(build_id: int, side: str, told: str = "") -> str:
    current = workshop().open(build_id)
    second = asked.whole(request.args, "second") or current.revision
    first = asked.whole(request.args, "first") or max(second - 1, 1)
    first, second = min(first, second), max(first, second)
    before, after = workshop().open(build_id, first), workshop().open(build_id, second)
    old, new = assessed(before), assessed(after)
    for assessment in (old, new):
        for ask in questions(assessment.sides[side]):
            sweeps().start(ask.question)
    rows = workshop().revisions(build_id, asked.whole(request.args, "page") or 1)
    return render_template(
        "revisions/index.html",
        **around(current, side, assessed(current), current_system()),
        rows=rows,
        sittings=sittings(rows.rows),
        first=first,
        second=second,
        changes=workshop().compare(build_id, first, second),
        verdict_changes=turned(old, new),
        turning=old.waiting or new.waiting,
        told=told,
        title="Revisions",
    )


PAUSE = timedelta(hours=2)
"""Between two changes of one hand, after which another sitting begins."""


@dataclass(frozen=True)
class Worked:
    """Changes that one hand made without a long pause, newest first."""

    author: str
    rows: list[RevisionRow]

    @property
    def since(self) -> datetime:
        return self.rows[-1].at

    @property
    def until(self) -> datetime:
        return self.rows[0].at


def sittings(rows: list[RevisionRow]) -> list[Worked]:
    """Revisions, newest first, by who sat down to them and when."""
    found: list[Worked] = []
    for row in rows:
        last = found[-1] if found else None
        if last is None or last.author != row.author or last.since - row.at > PAUSE:
            found.append(Worked(row.author, [row]))
        else:
            last.rows.append(row)
    return found


@blueprint.post("/restore")
def restore(build_id: int, side: str) -> Response | tuple[str, int]:
    """Make an earlier revision the newest again."""
    base, to = asked.base(request.form), asked.whole(request.form, "to")
    if to is None:
        abort(400)
    try:
        workshop().restore(build_id, base, to, current_who())
    except FieldError as error:
        return _page(build_id, side, error.message), 422
    return redirect(links.revisions(build_id, side))
