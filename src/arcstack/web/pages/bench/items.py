"""What stands in each place by its serial: valves, buckets or fingers, springs; put, exchanged, taken out."""

from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request
from werkzeug.wrappers import Response

from arcstack.document.parts import Pack
from arcstack.document.places import Place
from arcstack.errors import FieldError
from arcstack.readings import ASKED
from arcstack.readings.asked import SPRINGS
from arcstack.readings.exchange import exchanged
from arcstack.units import show
from arcstack.web.kit import links
from arcstack.web.kit.session import bench, current_hand, current_system, workshop
from arcstack.web.pages.bench.shown import Head, around_bench, head

blueprint = Blueprint("items", __name__, url_prefix="/builds/<int:build_id>/<side:side>/bench/items")

TOLD_BY = ("vacuum", "tip_height", "runout", "open_height")
"""Figures that an exchange of two valves explains."""


@dataclass(frozen=True)
class Slot:
    """One place and one sort: its field, and the serial that stands there, or that was typed."""

    sort: str
    name: str
    serial: str


def sorts(here: Head) -> list[tuple[str, str]]:
    """Sorts of item that this side has, each with its word."""
    single = here.current.build.side(here.side).stack.pack is Pack.SINGLE
    springs = [
        (s, "Spring" if single else f"{s.capitalize()} spring") for s in SPRINGS if not (single and s == "inner")
    ]
    return [("valve", "Valve"), ("follower", here.current.build.engine.follower.value.capitalize()), *springs]


def _places(here: Head) -> list[Place]:
    return [p for p in here.sheet.places if p.side == here.side]


def _slots(here: Head, typed: dict[str, str]) -> list[tuple[Place, list[Slot]]]:
    def slot(place: Place, sort: str) -> Slot:
        name = f"{sort}@{place.label}"
        return Slot(sort, name, typed.get(name, here.sheet.item_at(place.label, sort)))

    return [(place, [slot(place, sort) for sort, _ in sorts(here)]) for place in _places(here)]


@blueprint.get("")
def index(build_id: int, side: str, wrong: str = "", typed: dict[str, str] | None = None) -> str:
    """Every item of a side by its place, and what exchanges of valves have told."""
    here = head(workshop().open(build_id), side)
    if not here.sheet.places:
        return render_template("bench/nowhere.html", **around_bench(here, "items", "Items"))
    standing = {here.sheet.item_at(p.label, s) for p in here.sheet.places for s, _ in sorts(here)}
    loose = [
        (i, s) for i, s in here.sheet.items.items() if i not in standing and here.sheet.side_of(i) in ("", side)
        and here.sheet.place_of(i) is None
    ]  # fmt: skip
    return render_template(
        "bench/items.html",
        **around_bench(here, "items", "Items"),
        sorts=sorts(here),
        slots=_slots(here, typed or {}),
        loose=loose,
        told=_told(here),
        wrong=wrong,
        unnumbered=any(not here.sheet.item_at(p.label, s) for p in _places(here) for s in ("valve", "follower")),
    )


def _told(here: Head) -> list[str]:
    """What each exchange of two valves says, each said once."""
    found: dict[tuple[str, frozenset[str]], str] = {}
    for place in _places(here):
        for key in TOLD_BY:
            exchange = exchanged(here.sheet, place, key)
            if exchange is None:
                continue
            quantity = ASKED[key].quantity(here.current.build, here.side)
            was, now = (show(v, quantity.dimension, current_system(), 1) for v in (exchange.before, exchange.after))
            (one, other), valves = exchange.places, " and ".join(exchange.valves)
            words = f"{quantity.label}: {one} less {other} was {was}; with {valves} exchanged it is {now}."
            words = f"{words} It {exchange.follows.value}."
            found.setdefault((key, frozenset(exchange.places)), words)
    return list(found.values())


@blueprint.post("")
def put(build_id: int, side: str) -> Response | tuple[str, int]:
    """Put items as they are laid out in the form: what is new, exchanged or taken out."""
    current = workshop().open(build_id)
    here = head(current, side)
    typed = {name: " ".join(value.split()).upper() for name, value in request.form.items() if "@" in name}
    if request.form.get("number") == "1":
        typed |= _numbered(here)
    rows: list[tuple[str, str, str]] = []
    stays = {serial for serial in typed.values() if serial}
    for place, slots in _slots(here, typed):
        for slot in slots:
            was = here.sheet.item_at(place.label, slot.sort)
            if slot.serial == was or slot.name not in typed:
                continue
            if slot.serial:
                rows.append((slot.serial, slot.sort, place.label))
            if was and was not in stays:
                rows.append((was, slot.sort, ""))
    try:
        if rows:
            bench().put_all(build_id, current.build, rows, current_hand())
    except FieldError as error:
        return index(build_id, side, wrong=error.message, typed=typed), 422
    return redirect(links.at("items.index", build_id, side))


def _numbered(here: Head) -> dict[str, str]:
    """Serials for valves and followers that have none, by the place in which they stand now."""
    found = {}
    for place in _places(here):
        for sort in ("valve", "follower"):
            if not here.sheet.item_at(place.label, sort):
                serial = f"{sort[0].upper()}-{place.label}".upper()
                if serial not in here.sheet.items:
                    found[f"{sort}@{place.label}"] = serial
    return found
