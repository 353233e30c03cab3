"""Photographs of a head: taken or dropped, tied to place, item, finding and phase, with rings drawn on a copy."""

import re
from itertools import groupby
from pathlib import Path

from flask import Blueprint, abort, redirect, render_template, request, send_file
from werkzeug.wrappers import Response

from arcstack.application.pictures import LARGEST, TYPES
from arcstack.document.words import one_line
from arcstack.errors import FieldError
from arcstack.readings.pictured import SHOTS, Marked, Pictured, PictureOff, marks, pictures
from arcstack.readings.returning import findings, received
from arcstack.readings.taking import place_called
from arcstack.settings import setting
from arcstack.wear.order import look_now
from arcstack.wear.signs import signs
from arcstack.web.kit import links
from arcstack.web.kit.session import bench, current_hand, current_who, picture_store, workshop
from arcstack.web.pages.bench.shown import Head, around_work, head
from arcstack.web.pages.bench.sitting import stage_now
from arcstack.web.turns import set_aside

blueprint = Blueprint("pictures", __name__, url_prefix="/builds/<int:build_id>/<side:side>/pictures")

MOST, MOST_RINGS = int(setting("pictures.most_of_head")), int(setting("pictures.most_rings"))
LONGEST = int(setting("assembly.longest_text"))


def _phase(here: Head) -> str:
    """When in the work a picture is taken now."""
    return look_now(here.sheet.events).value if received(here.sheet.events) else stage_now(here.sheet).words


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "") -> str:
    """Every photograph, by phase, and the guided list of shots."""
    here = head(workshop().open(build_id), side)
    found = pictures(here.sheet.events)
    phase = _phase(here)
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
    here, form, by = head(workshop().open(build_id), side), request.form, current_hand()
    kept, told = 0, []
    try:
        if by.hand == "workshop":
            raise FieldError("hand", "Whose hand took it? It has a name.")
        place = place_called(here.sheet, form["place"]).label if form.get("place") else ""
        shot = form.get("shot", "") if form.get("shot") in SHOTS else ""
        item = form.get("item", "") if form.get("item") in here.sheet.items else ""
        finding = next((f.number for f in findings(here.sheet.events) if str(f.number) == form.get("finding")), 0)
        files = [f for f in request.files.getlist("picture") if f.filename]
        if not files:
            raise FieldError("picture", "Choose a photograph, take one, or drop it here.")
        if len(pictures(here.sheet.events)) + len(files) > MOST:
            raise FieldError("picture", f"A head keeps {MOST} photographs at most.")
    except FieldError as error:
        return index(build_id, side, error.message), 422
    for file in files:
        name = _name(file.filename or "")
        try:
            with set_aside():
                seen = picture_store().keep(file.stream.read(LARGEST + 1))
        except FieldError as error:
            told.append(f"{name}: {error.message}")
            continue
        note = one_line(form.get("note", ""), LONGEST)
        bench().happened(
            build_id,
            Pictured(
                0, seen.sha256, seen.kind, seen.width, seen.height, seen.size, name, shot, place, item, finding,
                _phase(here), by, note,
            ),
        )  # fmt: skip
        kept += 1
    if told:
        return index(build_id, side, f"{' '.join(told)} {kept} of {len(files)} kept."), 422
    return redirect(links.at("pictures.index", build_id, side))


def _name(given: str) -> str:
    """What a file was called, as it is shown: never a path, nothing that cannot be printed."""
    last = re.split(r"[/\\]", given)[-1]
    return "".join(c for c in last if c.isprintable())[:80] or "picture"


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


_RING = re.compile(r"\s*(\d{1,3}(?:\.\d+)?)\s+(\d{1,3}(?:\.\d+)?)\s+(\d{1,3}(?:\.\d+)?)\s*(.*)")


def read_rings(text: str) -> tuple[tuple[tuple[float, float, float], ...], tuple[str, ...]]:
    """Rings as they are typed, one a line: across, down and size in hundredths of the width, and a word.

    Raises ``FieldError`` for a line that is none.

    >>> read_rings("34 52 6 dents")
    (((0.34, 0.52, 0.06),), ('dents',))
    """
    rings, words = [], []
    for n, line in enumerate((li for li in text.splitlines() if li.strip()), 1):
        found = _RING.fullmatch(line)
        if found is None:
            raise FieldError("rings", f"Line {n} is no ring: across, down and size in hundredths, then a word.")
        x, y, r = (float(t) / 100.0 for t in found.groups()[:3])
        if not (x <= 1.0 and 0.0 < r <= 0.5 and y <= 4.0):
            raise FieldError("rings", f"Line {n} lies outside the picture.")
        rings.append((x, y, r))
        words.append(one_line(found[4], 40))
    if len(rings) > MOST_RINGS:
        raise FieldError("rings", f"{MOST_RINGS} rings on one picture are enough.")
    return tuple(rings), tuple(words)


@blueprint.post("/<int:number>/marks")
def mark(build_id: int, side: str, number: int) -> Response | tuple[str, int]:
    """Draw rings on a copy: the photograph itself stays as it is."""
    _one(build_id, side, number)
    try:
        rings, words = read_rings(request.form.get("rings", "")[:4000])
    except FieldError as error:
        return one(build_id, side, number, error.message), 422
    bench().happened(build_id, Marked(0, number, rings, words, current_hand()))
    return redirect(f"{links.at('pictures.index', build_id, side)}/{number}")


@blueprint.post("/<int:number>/off")
def off(build_id: int, side: str, number: int) -> Response:
    """Take a photograph out of this head's list; its file stays."""
    _one(build_id, side, number)
    bench().happened(build_id, PictureOff(0, number, current_hand()))
    return redirect(links.at("pictures.index", build_id, side))
