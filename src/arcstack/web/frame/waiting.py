"""What the verdicts of a head wait for: how far it is, stopped, and shown once it is there."""

from dataclasses import dataclass

from flask import Blueprint, render_template, request

from arcstack.application import State
from arcstack.assess import elastic
from arcstack.assess.context import Context, known
from arcstack.dynamics.question import Question
from arcstack.web.frame.around import around, shown
from arcstack.web.kit.progress import waiting
from arcstack.web.kit.session import assessed, current_system, sweeps, workshop
from arcstack.web.kit.stage import STAGES

blueprint = Blueprint("waiting", __name__, url_prefix="/builds/<int:build_id>/<side:side>/train")


@dataclass(frozen=True)
class Ask:
    """One side's sweep."""

    ctx: Context
    question: Question


def questions(ctx: Context) -> list[Ask]:
    """The sweeps that the verdicts of both sides rest on, this side's first, where they can be asked."""
    asks = ((each, known(lambda: elastic.question(each))) for each in (ctx, ctx.other))  # noqa: B023
    return [Ask(each, question) for each, question in asks if question is not None]


@blueprint.get("/wait")
def wait(build_id: int, side: str) -> str:
    """How far the sweeps are; once they are known, everything that rests on them."""
    name, current = request.args.get("stage", ""), workshop().open(build_id)
    asks = questions(assessed(current).sides[side])
    progress = [sweeps().start(ask.question, again="again" in request.args) for ask in asks]
    if any(p.state is not State.DONE for p in progress):
        looks = [elastic.first_look(a.ctx, p.first) for a, p in zip(asks, progress, strict=True) if p.first is not None]
        return render_template(
            "frame/_wait.html", **waiting(progress), first=looks, build_id=build_id, side=side, stage=name
        )
    system, assessment, stage = current_system(), assessed(current), STAGES.find(name)
    parts = around(current, side, assessment, system, name)
    if stage is not None:
        parts |= shown(current, side, assessment, system, stage) | {"swaps": stage.when_turned}
    return render_template("frame/_arrived.html", **parts)


@blueprint.post("/stop")
def stop(build_id: int, side: str) -> str:
    """Stop the sweeps of this head."""
    asks = [ask.question for ask in questions(assessed(workshop().open(build_id)).sides[side])]
    for question in asks:
        if sweeps().known(question) is None:
            sweeps().stop(question)
    progress = [sweeps().start(question) for question in asks]
    stage = request.form.get("stage", "")
    return render_template("frame/_wait.html", **waiting(progress), build_id=build_id, side=side, stage=stage)
