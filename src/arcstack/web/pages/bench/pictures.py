"""Photographs of a head: taken or dropped, tied to place, item, finding and phase, with rings drawn on a copy."""

from itertools import groupby
from pathlib import Path

from flask import Blueprint, abort, redirect, render_template, request, send_file
from werkzeug.wrappers import Response

from arcstack.application.acts import picturing
from arcstack.application.pictures import LARGEST, TYPES
from arcstack.errors import FieldError, Frozen
from arcstack.readings.pictured import SHOTS, Pictured, marks, pictures
from arcstack.readings.returning import findings
from arcstack.readings.taking import place_called
from arcstack.wear.signs import signs
from arcstack.web.kit import asked, links
from arcstack.web.kit.form import sent
from arcstack.web.kit.session import current_hand, current_who, picture_store, workshop
from arcstack.web.pages.bench.shown import Head, around_work, head
from arcstack.web.pages.bench.sitting import stage_now
from arcstack.web.turns import set_aside

blueprint = Blueprint("pictures", __name__, url_prefix="/builds/<int:build_id>/<side:side>/pictures")

MOST_TYPED = 4_000


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """Every photograph, by phase, and the guided list of shots."""
    here = head(workshop().open(build_id), side)
    found = pictures(here.sheet.events)
    phase = picturing.phase_of(here, stage_now(here.sheet).words)
    taken = {shot: sum(p.shot == shot and p.look == phase for p in found) for shot in SHOTS}
    rows = sorted(found, key=lambda p: -p.number)
    return render_template(
        "bench/pictures.html",
        **around_work(here, "pictures", "Photographs"),
        phases=[(name, list(own)) for name, own in groupby(rows, key=lambda p: p.look)],
        phase=phase,
        shots=SHOTS,
        taken=taken,
        next_shot=next((s for s in SHOTS if not taken[s]), ""),
        findings=[(f, signs()[f.sign].title) for f in findings(here.sheet.events) if f.sign in signs()],
        items=here.sheet.items,
        largest=LARGEST // 1_000_000,
        wrong=wrong,
        typed=request.form if wrong else {},
        at=request.args.get("at", ""),
        hand=current_who().name,
    )


@blueprint.post("")
def take(build_id: int, side: str) -> Response | tuple[str, int]:
    """Keep photographs; each is looked at by itself, and what is none is told."""
    here, form, by = head(workshop().open(build_id), side), sent(), current_hand()
    files = [f for f in request.files.getlist("picture") if f.filename]
    finding = asked.whole(request.form, "finding") if form.text("finding") else None
    told = []
    try:
        picturing.room_for(here, by, len(files))
        place = place_called(here.sheet, form.text("place")).label if form.text("place") else ""
    except FieldError as error:
        return index(build_id, side, error.message), 422
    for file in files:
        name = picturing.called(file.filename or "")
        try:
            with set_aside():
                seen = picture_store().keep(file.stream.read(LARGEST + 1))
            picturing.keep(
                here, by, seen, name=name, shot=form.text("shot"), place=place, item=form.text("item"),
                finding=finding,
                stage=stage_now(here.sheet).words, note=form.line("note"),
            )  # fmt: skip
        except Frozen:
            raise
        except FieldError as error:
            told.append(f"{name}: {error.message}")
    if told:
        return index(build_id, side, f"{' '.join(told)} {len(files) - len(told)} of {len(files)} kept."), 422
    return redirect(links.at("pictures.index", build_id, side))


def _one(build_id: int, side: str, number: int) -> tuple[Head, Pictured]:
    """A photograph of this head; 404 for any other."""
    here = head(workshop().open(build_id), side)
    found = next((p for p in pictures(here.sheet.events) if p.number == number), None)
    return here, found or abort(404)


@blueprint.get("/<int:number>")
def one(build_id: int, side: str, number: int, wrong: str = "") -> str:
    """One photograph, large, with the rings drawn on its copy."""
    here, found = _one(build_id, side, number)
    drawn = marks(here.sheet.events, number)
    rings = list(zip(drawn.rings, drawn.words, strict=True)) if drawn else []
    text = "\n".join(f"{x * 100:.0f} {y * 100:.0f} {r * 100:.0f} {word}".strip() for (x, y, r), word in rings)
    finding = next((f for f in findings(here.sheet.events) if f.number == found.finding), None)
    return render_template(
        "bench/picture.html",
        **around_work(here, "pictures", "Photographs"),
        picture=found,
        rings=rings,
        text=request.form.get("rings", text) if wrong else text,
        drawn_by=drawn.by if drawn else None,
        finding=signs()[finding.sign].title if finding and finding.sign in signs() else "",
        shot=SHOTS.get(found.shot, ""),
        here_it_is=picture_store().whole(found.sha256, found.format) is not None,
        wrong=wrong,
    )


@blueprint.get("/<int:number>/whole")
def whole(build_id: int, side: str, number: int) -> Response:
    """The photograph in its full size; where it tells the place it was taken at, a copy that does not."""
    _, found = _one(build_id, side, number)
    with set_aside():
        path = picture_store().shown(found.sha256, found.format)
    return _as_picture(path, found)


@blueprint.get("/<int:number>/original")
def original(build_id: int, side: str, number: int) -> Response:
    """The photograph as it was taken in, byte for byte, with all that the camera wrote into it: for the owner."""
    _, found = _one(build_id, side, number)
    return _as_picture(picture_store().whole(found.sha256, found.format), found)


def _as_picture(path: Path | None, found: Pictured) -> Response:
    name = f"{found.sha256[:12]}.{found.format}"
    return _served(send_file(path or abort(404), mimetype=TYPES[found.format], download_name=name))


@blueprint.get("/<int:number>/small")
def small(build_id: int, side: str, number: int) -> Response:
    """Its small copy."""
    _, found = _one(build_id, side, number)
    return _served(send_file(picture_store().small(found.sha256) or abort(404), mimetype="image/jpeg"))


def _served(response: Response) -> Response:
    """Shown as a picture and as nothing else, whatever it holds."""
    response.headers["Content-Disposition"] = response.headers["Content-Disposition"].replace("attachment", "inline")
    return response


@blueprint.post("/<int:number>/marks")
def mark(build_id: int, side: str, number: int) -> Response | tuple[str, int]:
    """Draw rings on a copy: the photograph itself stays as it is."""
    here, _ = _one(build_id, side, number)
    try:
        picturing.mark(here, current_hand(), picture=number, text=request.form.get("rings", "")[:MOST_TYPED])
    except FieldError as error:
        return one(build_id, side, number, error.message), 422
    return redirect(f"{links.at('pictures.index', build_id, side)}/{number}")


@blueprint.post("/<int:number>/off")
def off(build_id: int, side: str, number: int) -> Response:
    """Take a photograph out of this head's list; its file stays."""
    here, _ = _one(build_id, side, number)
    picturing.take_out(here, current_hand(), picture=number)
    return redirect(links.at("pictures.index", build_id, side))
