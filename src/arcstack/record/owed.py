"""What a signature asks for, thing by thing: of every check at every place, every step, order, disposition and gate.

Nothing leaves the list: each thing ends done, or let pass by a name.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date
from enum import StrEnum

from arcstack.assembly.progress import standings
from arcstack.assembly.second import table
from arcstack.assess import Assessment, checks
from arcstack.assess.built import Across, Built, Stand
from arcstack.assess.catalogue import title_of
from arcstack.checks import Figure, Level, Limit, Sense, Verdict
from arcstack.document import SIDES
from arcstack.evidence import coverage, passing
from arcstack.evidence.coverage import Coverage, Leaf, at_places
from arcstack.readings import Sheet, Waived
from arcstack.readings.assembling import State
from arcstack.readings.left import left
from arcstack.readings.returning import What, disposed, findings, received
from arcstack.record.carried_out import carried_out
from arcstack.record.orders import lines
from arcstack.trials.lashing import TREND, judged, trend_stands
from arcstack.trials.mocked import mocked
from arcstack.units import show
from arcstack.wear.dispositions import kinds, part_of
from arcstack.wear.signs import signs


class Kind(StrEnum):
    """What sort of thing a signature asks for, in the order it is read."""

    PAPER = "on paper"
    BUILT = "as built"
    LOOSENED = "loosened for this build"
    UNREAD = "not measured"
    STALE = "stale"
    LASH = "lash"
    MOCK_UP = "mock-up"
    ASSEMBLY = "assembly"
    DISPOSITION = "dispositions"
    ORDER = "orders"


_TITLES = {
    "stale": "Stale reading",
    "mock_up": "Mock-up",
    "assembly": "Assembly",
    "back": "Dispositions",
    "order": "Orders",
    "release": "Let pass at an earlier release",
}


def titled(key: str) -> str:
    """What a check, or another thing that a signature asks for, is called.

    >>> titled("mock_up.begun"), titled("valve.runout"), titled("release.mock_up")
    ('Mock-up', 'Face runout', 'Mock-up')
    """
    if key in checks():
        return title_of(key)
    for part in (key, *key.split(".")):
        if part in _TITLES and part != "release":
            return _TITLES[part]
    return title_of(key)


@dataclass(frozen=True)
class Owed:
    """One thing that a signature asks for.

    ``key``, ``side``, ``place`` and ``state`` name it to whoever lets it pass; ``stands`` is its figure against the
    shop's limit, ``never`` why no name may. ``stage`` is where it is mended.
    """

    kind: Kind
    key: str
    side: str
    place: str
    state: str
    title: str
    words: str
    stage: str
    stands: passing.Stands | None = None
    never: str = ""
    waiting: bool = False
    """Whether it only waits for long work to end."""
    passed: Waived | None = None

    @property
    def standing(self) -> bool:
        return self.passed is None

    @property
    def contact(self) -> bool:
        """Whether metal could meet there, or a spring go solid: what is let pass of these is said first."""
        return self.key.removeprefix(_OF_MOCK_UP) in passing.CONTACT


_OF_MOCK_UP = "mock_up."
"""Begins the key of whatever a mock-up asks for."""


def owed(design: Assessment, sheet: Sheet, built: Built, today: date) -> tuple[Owed, ...]:
    """Everything that a signature asks for, with who let it pass. What is *tight* asks nothing."""
    found = [
        *_paper(design, built), *_built(built), *_stale(sheet), *_lash(design, sheet), *_mock_up(design, sheet),
        *_assembly(design, sheet), *_dispositions(sheet), *_orders(sheet),
    ]  # fmt: skip
    by_key: dict[tuple[str, str, str], list[Waived]] = {}
    for w in sheet.waivers:
        by_key.setdefault((w.check, w.side, w.place), []).append(w)
    return tuple(_with_name(o, by_key.get((o.key, o.side, o.place), ()), today) for o in found)


def _with_name(o: Owed, waivers: Sequence[Waived], today: date) -> Owed:
    if o.never:
        return o
    held = next((w for w in waivers if passing.holds(w, o.state, o.stands, today)), None)
    return o if held is None else replace(o, passed=held)


def waived(o: Owed, w: Waived) -> Waived:
    """What a name says of it, with the figure and the shop's limit that it is said of."""
    s = o.stands
    figure, low, high = (s.value, s.low, s.high) if s is not None else (None, None, None)
    return replace(
        w, check=o.key, side=o.side, place=o.place, stood=o.words[:400], state=o.state, figure=figure, low=low,
        high=high,
    )  # fmt: skip


# -- checks


def of_verdict(v: Verdict, place: str, covered: Coverage | None, side: str | None = None) -> Iterator[Owed]:
    """What one check asks for at a place or on a side: it fails, is open, was loosened, or is not measured."""
    if not v.judges:
        return
    on = v.side or "" if side is None else side
    stands = passing.stands(v.figure, v.limit) if v.figure is not None and v.limit is not None else None
    never = passing.never(v.id, v.figure)

    def one(kind: Kind, state: str, words: str, never: str = "") -> Owed:
        return Owed(kind, v.id, on, place, state, v.title, words, v.stage, stands, never, v.waiting)

    kind = Kind.BUILT if place else Kind.PAPER
    if v.level is Level.OPEN:
        needs = ", ".join(m.label[:1].lower() + m.label[1:] for m in v.missing[:3]) or v.note
        yield one(kind, "open", f"open: needs {needs}" if v.missing else f"open{f': {v.note}' if v.note else ''}")
        return
    by_shop = passing.level_by_shop(v)
    if v.waivers and by_shop is not v.level and (by_shop is Level.FAIL or (v.figure is not None and v.figure.waivers)):
        yield one(Kind.LOOSENED, "loosened", _loosened(v), never if by_shop is Level.FAIL else "")
    elif v.level is Level.FAIL:
        yield one(kind, "fail", f"fail: {_against(v)}", never)
    if covered is not None and not covered.whole:
        stale = covered.of(Leaf.STALE)
        more = f"; {stale[0].outdated.removeprefix('Stale: ')}" if stale else ""
        yield one(Kind.UNREAD, "unread", f"not measured: {covered.words}{more}")


def _against(v: Verdict) -> str:
    assert v.figure is not None
    assert v.limit is not None
    return f"{_shown(v.figure, v.figure.value)}, {_ends(v.figure, passing.shops(v.limit))}"


def _loosened(v: Verdict) -> str:
    assert v.figure is not None
    assert v.limit is not None
    w = v.waivers[0]
    held = f"held to {_ends(v.figure, v.limit)} here" if v.limit.waiver is not None else "an assumption loosened here"
    return f"{_against(v)}; {held} by {w.hand or 'a hand not named'}: {w.reason}"


def _shown(f: Figure, value: float) -> str:
    return str(show(value, f.dimension))


def _ends(f: Figure, limit: Limit) -> str:
    low = f"at least {_shown(f, limit.low)}" if limit.low is not None and limit.sense is not Sense.AT_MOST else ""
    high = f"at most {_shown(f, limit.high)}" if limit.high is not None and limit.sense is not Sense.AT_LEAST else ""
    return " and ".join(x for x in (low, high) if x)


def _paper(design: Assessment, built: Built) -> Iterator[Owed]:
    """Verdicts that are judged of the design and at no place: a train over its speeds, and what a place leaves out."""
    at_some = {(a.check, side) for side in SIDES for a in built.sides[side]}
    for v in design.verdicts:
        if (v.id, v.side or SIDES[0]) not in at_some:
            yield from of_verdict(v, "", coverage(v.figure) if v.figure is not None else None)


def _built(built: Built) -> Iterator[Owed]:
    for side in SIDES:
        for a in built.sides[side]:
            if once(a):
                yield from _of_head(a, side)
                continue
            for s in a.stands:
                yield from of_verdict(s.verdict, s.place.label, s.coverage)
        for v in built.sets[side]:
            if v.judges and v.level is Level.FAIL:
                yield from of_verdict(v, "", None)


def once(a: Across) -> bool:
    """Whether a check is alike at every place, since nothing below it stands at one: it is asked for once."""
    return all(_stands_once(s) for s in a.stands) and len({s.verdict.level for s in a.stands}) == 1


def _stands_once(s: Stand) -> bool:
    about = checks().get(s.verdict.id)
    if about is not None and (about.head or about.stage == "turbo"):
        return True
    if s.coverage is None:
        # what is open is mended where it is read
        return not any(m.path.partition(".")[2].startswith(("bench.", "stack.", "cam.lobe")) for m in s.verdict.missing)
    return not any(at_places(f) for f, _ in s.coverage.leaves)


def _of_head(a: Across, side: str) -> Iterator[Owed]:
    about, first = checks().get(a.check), a.stands[0]
    of_all = about is not None and (about.head or about.stage == "turbo")
    if of_all and side != SIDES[0]:
        return
    yield from of_verdict(first.verdict, "", first.coverage, "" if of_all else None)


# -- everything else


def _stale(sheet: Sheet) -> Iterator[Owed]:
    for x in left(sheet):
        if x.why.startswith("stale"):
            place, asked = x.spot.place, x.spot.asked
            label = asked.quantity(sheet.build, place.side).label
            words = f"{label}: {x.why.removeprefix('stale: ')}"
            yield Owed(
                Kind.STALE, f"stale.{asked.key}", place.side, place.label, "stale", titled("stale"), words, "to_do"
            )


def _lash(design: Assessment, sheet: Sheet) -> Iterator[Owed]:
    """Lash that closes service by service: no shim hides it."""
    for place in sheet.places:
        level, words = judged(design.sides[place.side], sheet.lash_of(place))
        if level in (Level.FAIL, Level.OPEN):
            stands = trend_stands(design.sides[place.side], sheet.lash_of(place))
            yield Owed(Kind.LASH, TREND, place.side, place.label, level.value, titled(TREND), words, "lash", stands)


def _mock_up(design: Assessment, sheet: Sheet) -> Iterator[Owed]:
    for side in SIDES:
        made = mocked(design, sheet, side)

        def one(key: str, words: str, state: str = "open", on: str = side) -> Owed:
            return Owed(Kind.MOCK_UP, f"{_OF_MOCK_UP}{key}", on, "", state, titled("mock_up"), words, "mock_up")

        if not made.mock.begun:
            yield one("begun", "not begun: clearance was never swept on this engine")
            continue
        if not made.gaps:
            yield one("measured", "piston clearance was measured at no valve")
        for gate in made.gates:
            v = gate.verdict
            if v is None:
                yield one(gate.key, gate.words)
                continue
            for o in of_verdict(v, gate.place, None):
                never = passing.never(v.id, v.figure)
                yield replace(o, kind=Kind.MOCK_UP, key=f"{_OF_MOCK_UP}{v.id}", stage="mock_up", never=never)


def _assembly(design: Assessment, sheet: Sheet) -> Iterator[Owed]:
    most = design.sides[SIDES[0]].limit("second.height").high or 0.0
    for s in standings(sheet, table(sheet, most)):
        if s.state is not State.DONE:
            words = f"{s.step.title.lower()}: {s.state.value}{f', {s.why}' if s.why else ''}"
            key = f"assembly.{s.step.id}"
            yield Owed(Kind.ASSEMBLY, key, "", "", s.state.value, titled("assembly"), words, "assembly")


def _dispositions(sheet: Sheet) -> Iterator[Owed]:
    """Findings nothing was decided on, parts that still wait, and work that is out of the house."""
    if received(sheet.events) is None:
        return

    def one(key: str, place: str, state: str, words: str) -> Owed:
        return Owed(Kind.DISPOSITION, f"back.{key}", "", place, state, titled("back"), words, "back")

    decided = disposed(sheet.events)
    at = {(d.part, d.place) for d in decided}
    for f in findings(sheet.events):
        if f.absent or not _bad(f.sign):
            continue
        part, title = part_of(f.sign), signs()[f.sign].title.lower()
        if not f.places and not any(d.part == part or not part for d in decided):
            # what was found of the whole head asks for a decision too
            yield one(f"undecided.{f.sign}", "", "open", f"{title}: nothing decided")
        for place in f.places:
            if not any(d.place == place for d in decided) if not part else (part, place) not in at:
                of = f" of its {kinds()[part].title.lower()}" if part else ""
                yield one(f"undecided.{f.sign}", place, "open", f"{title}: nothing decided{of}")
    for d in decided:
        if d.what is What.QUARANTINE:
            yield one(d.part, d.place, d.what.value, f"{kinds()[d.part].title} of {d.place} in quarantine")
        if d.what is What.SEND and not carried_out(sheet, d):
            yield one(d.part, d.place, d.what.value, f"{kinds()[d.part].title} of {d.place} is out of the house")
        elif not carried_out(sheet, d):
            words = f"{kinds()[d.part].title} of {d.place}: decided, not done as the record knows: {d.what.value}"
            yield one(f"{d.part}.not_done", d.place, d.what.value, words)
    yield one("sent_on", "", "open", "it is not sent on: the next revision is not made")


def _bad(sign: str) -> bool:
    return sign in signs() and not signs()[sign].normal


def _orders(sheet: Sheet) -> Iterator[Owed]:
    for x in lines(sheet.events):
        if x.open:
            words = f"{x.order.part}: {x.state.value}"
            yield Owed(Kind.ORDER, f"order.{x.order.number}", "", "", x.state.value, titled("order"), words, "orders")


# -- as a page lists them


@dataclass(frozen=True)
class Group:
    """Things that are alike but for their place: one line of a list."""

    kind: Kind
    key: str
    side: str
    state: str
    title: str
    words: str
    places: tuple[str, ...]
    stage: str
    all: tuple[Owed, ...]

    @property
    def standing(self) -> bool:
        return self.all[0].standing

    @property
    def never(self) -> str:
        return next((o.never for o in self.all if o.never), "")

    @property
    def waiting(self) -> bool:
        return all(o.waiting for o in self.all)

    @property
    def passed(self) -> Waived | None:
        return self.all[0].passed


def grouped(found: Sequence[Owed], of: dict[str, int]) -> tuple[Group, ...]:
    """Things as a list shows them, in their order: of one check and side in one line, the places by name. ``of`` is
    how many places each side has."""
    rows: dict[tuple[object, ...], list[Owed]] = {}
    for o in found:
        w = o.passed
        key = (o.kind, o.key, o.side, o.state, bool(o.never), w is None, (w.reason, w.until, w.by.hand) if w else None)
        rows.setdefault(key, []).append(o)
    return tuple(_group(own, of) for own in rows.values())


def _group(own: list[Owed], of: dict[str, int]) -> Group:
    first = own[0]
    worst = max(own, key=lambda o: o.stands.past if o.stands is not None else 0.0)
    places = tuple(o.place for o in own if o.place)
    words = worst.words
    if places:
        words = f"{words} – {few(places, of.get(first.side, 0))}"
    return Group(first.kind, first.key, first.side, first.state, first.title, words, places, first.stage, tuple(own))


def few(places: Sequence[str], of: int) -> str:
    """Places in a few words.

    >>> few(["1I-a", "1I-b"], 2), few(["1I-a"], 8)
    ('all 2', '1I-a')
    """
    if len(places) == of and of > 1:
        return f"all {of}"
    return ", ".join(places[:6]) + (f" and {len(places) - 6} more" if len(places) > 6 else "")
