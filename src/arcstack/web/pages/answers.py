"""Questions on the Brief about what is not there: one answer settles several fields."""

from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.document import Build
from arcstack.document.answers import QUESTIONS, Question, answer, answered, question
from arcstack.errors import FieldError, StaleRevision
from arcstack.store import Kind, Reason
from arcstack.web import asked, links
from arcstack.web.session import current_hand, current_who, workshop

blueprint = Blueprint("answers", __name__, url_prefix="/builds/<int:build_id>")


@dataclass(frozen=True)
class Asked:
    """One question as the page shows it, with the answer that stands."""

    question: Question
    answer: str


def questions(build: Build) -> list[Asked]:
    return [Asked(q, answered(build, q)) for q in QUESTIONS]


@blueprint.post("/answer")
def say(build_id: int) -> Response | tuple[str, int]:
    """Take one answer into every field it speaks of."""
    base, key, said = asked.base(request.form), request.form.get("question", ""), request.form.get("answer", "")
    try:
        found = question(key)
        changed = answer(workshop().open(build_id, base).build, found, said, current_hand())
        workshop().save(build_id, base, changed, current_who(), Reason(Kind.ANSWER, key, after=said))
    except FieldError as error:
        return _told("Not taken", error.message), 422
    except StaleRevision:
        return _told("Another window was faster", "The build was changed in another window. Reload, then answer."), 409
    return redirect(links.stage(build_id, "brief", "intake") + "#there")


def _told(title: str, message: str) -> str:
    return render_template("layout/error.html", title=title, message=message)
