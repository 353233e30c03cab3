"""Release of a head: everything that stands against a signature, and who let it pass."""

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from arcstack.assembly.progress import standings
from arcstack.assembly.second import table
from arcstack.assess import Assessment
from arcstack.assess.built import Across, Built
from arcstack.assess.catalogue import title_of
from arcstack.checks import Evidence, Figure, Level
from arcstack.document import SIDES, Sitting
from arcstack.errors import FieldError
from arcstack.readings import Sheet, Waived
from arcstack.readings.assembling import State
from arcstack.readings.left import left
from arcstack.readings.recorded import Released
from arcstack.readings.returning import What, disposed, findings, received
from arcstack.record.orders import lines
from arcstack.trials.lashing import judged
from arcstack.trials.mocked import mocked
from arcstack.wear.dispositions import kinds
from arcstack.wear.signs import signs

AT_PLACES = ("spring.reserve.outer", "spring.reserve.inner", "stack.retainer_seal", "seat.vacuum", "lash.band")
"""Safety checks of which every valve is measured before a head is signed: the count is N of N or it is named."""

OF_SET = ("fit.lock_stem", "fit.groove", "fit.taper", "fit.lock_depth", "fit.spring_retainer", "fit.tip_proud")
"""Safety checks of parts that are measured once for their set, not place by place: measured so, or named."""


class Kind(StrEnum):
    """What sort of thing stands against a release."""

    PAPER = "on paper"
    BUILT = "as built"
    UNREAD = "not measured"
    STALE = "stale"
    LASH = "lash"
    MOCK_UP = "mock-up"
    ASSEMBLY = "assembly"
    DISPOSITION = "dispositions"
    ORDER = "orders"


_TITLES = {
    "release.stale": "Stale readings",
    "release.lash": "Lash",
    "release.mock_up": "Mock-up",
    "release.assembly": "Assembly",
    "release.dispositions": "Dispositions",
    "release.orders": "Orders",
}


def titled(key: str) -> str:
    """What a check, or another thing that stands against a release, is called.

    >>> titled("release.mock_up"), titled("valve.runout")
    ('Mock-up', 'Face runout')
    """
    return _TITLES.get(key) or title_of(key)


@dataclass(frozen=True)
class Against:
    """One thing that stands against a release: what, on which side and at which places, and who let it pass.

    ``key`` and ``side`` name it to a waiver. ``stage`` is where it is mended.
    """

    kind: Kind
    key: str
    side: str
    title: str
    words: str
    places: tuple[str, ...]
    stage: str
    waived: Waived | None = None
    waiting: bool = False
    """Whether it only waits for long work to end."""

    @property
    def standing(self) -> bool:
        return self.waived is None


def against(design: Assessment, sheet: Sheet, built: Built) -> tuple[Against, ...]:
    """Everything that stands against the signature: what fails or is open, safety checks that are not measured at every
    valve, stale readings, lash, mock-up, assembly, dispositions and orders. *Tight* does not."""
    found = [
        *_paper(design, built), *_built(built), *_stale(sheet), *_lash(design, sheet), *_mock_up(design, sheet),
        *_assembly(design, sheet), *_dispositions(sheet), *_orders(sheet),
    ]  # fmt: skip
    # one that was given for another state of it holds no more: what was unread and let pass may since have failed
    waivers = {(w.check, w.side, w.stood): w for w in sheet.waivers if not w.place}
    return tuple(replace(a, waived=waivers.get((a.key, a.side, a.words))) for a in found)


def _paper(design: Assessment, built: Built) -> list[Against]:
    """Verdicts that are judged of the design, and of no place: a train over its speeds, and what a place leaves out."""
    at_places = {(a.check, side) for side in SIDES for a in built.sides[side]}
    return [
        Against(Kind.PAPER, v.id, v.side or "", v.title, _why(v.level, v.note), (), v.stage, waiting=v.waiting)
        for v in design.verdicts
        if v.judges and v.level in (Level.FAIL, Level.OPEN) and (v.id, v.side or SIDES[0]) not in at_places
    ]


def _why(level: Level, note: str) -> str:
    return f"{level.value}{f': {note}' if note else ''}"


def _built(built: Built) -> list[Against]:
    found = []
    for side in SIDES:
        for a in built.sides[side]:
            for level in (Level.FAIL, Level.OPEN):
                own = [(p.label, v) for p, v in a.at if v.judges and v.level is level]
                if own:
                    places = tuple(label for label, _ in own)
                    words = f"{level.value} at {_few(places, len(a.at))}"
                    found.append(Against(Kind.BUILT, a.check, side, a.title, words, places, own[0][1].stage))
            found += _unread(a, side)
        for v in built.sets[side]:
            if v.judges and v.level is Level.FAIL:
                found.append(Against(Kind.BUILT, v.id, side, v.title, _why(v.level, v.note), (), "bench"))
    return found


def _unread(a: Across, side: str) -> list[Against]:
    """Places at which a safety check rests on nothing that was measured: there, or of the set."""
    own = [s for s in a.stands if s.verdict.judges and s.verdict.level in (Level.CLEAR, Level.TIGHT)]
    if a.check in OF_SET and not all(s.verdict.figure is not None and _measured(s.verdict.figure) for s in own):
        words = "on paper: no set of these parts was measured"
        return [Against(Kind.UNREAD, a.check, side, a.title, words, (), own[0].verdict.stage)]
    places = tuple(s.place.label for s in own if not s.read and s.place.label not in a.waived)
    if a.check not in AT_PLACES or not places:
        return []
    words = f"{len(a.stands) - len(places)} of {len(a.stands)} measured; not {_few(places, len(a.stands))}"
    return [Against(Kind.UNREAD, a.check, side, a.title, words, places, own[0].verdict.stage)]


def _measured(figure: Figure) -> bool:
    """Whether every part below was measured, if only one of the set."""
    if figure.inputs:
        return all(_measured(f) for f in figure.inputs)
    return figure.path is None or figure.evidence is Evidence.MEASURED


def _few(places: Sequence[str], of: int) -> str:
    if len(places) == of and of > 1:
        return f"all {of}"
    return ", ".join(places[:6]) + (f" and {len(places) - 6} more" if len(places) > 6 else "")


def _stale(sheet: Sheet) -> list[Against]:
    own = [x for x in left(sheet) if x.why.startswith("stale")]
    if not own:
        return []
    places = tuple(dict.fromkeys(x.spot.place.label for x in own))
    words = (
        f"{len(own)} readings no longer hold, {_few(places, len(sheet.places))}: {own[0].why.removeprefix('stale: ')}"
    )
    return [Against(Kind.STALE, "release.stale", "", titled("release.stale"), words, places, "to_do")]


def _lash(design: Assessment, sheet: Sheet) -> list[Against]:
    """Lash is read again once it is set, at every valve that has any."""
    found = []
    for side in SIDES:
        ctx = design.sides[side]
        own = [(p.label, judged(ctx, sheet.lash_of(p))) for p in sheet.places if p.side == side]
        wrong = [(label, words) for label, (level, words) in own if level in (Level.FAIL, Level.OPEN)]
        if wrong:
            places = tuple(label for label, _ in wrong)
            words = f"{wrong[0][1]} at {_few(places, len(own))}"
            found.append(Against(Kind.LASH, "release.lash", side, titled("release.lash"), words, places, "lash"))
    return found


def _mock_up(design: Assessment, sheet: Sheet) -> list[Against]:
    found = []
    for side in SIDES:
        made = mocked(design, sheet, side)
        words = made.against if made.mock.begun else ("not begun: clearance was never swept on this engine",)
        if made.mock.begun and not made.gaps:
            words = (*words, "piston clearance was measured at no valve")
        if words:
            told = "; ".join(words[:3]) + (f" and {len(words) - 3} more" if len(words) > 3 else "")
            found.append(Against(Kind.MOCK_UP, "release.mock_up", side, titled("release.mock_up"), told, (), "mock_up"))
    return found


def _assembly(design: Assessment, sheet: Sheet) -> list[Against]:
    most = design.sides[SIDES[0]].limit("second.height").high or 0.0
    own = [s for s in standings(sheet, table(sheet, most)) if s.state is not State.DONE]
    if not own:
        return []
    shown = ", ".join(f"{s.step.title.lower()} ({s.state.value})" for s in own[:4])
    words = f"{len(own)} steps are not done: {shown}{f' and {len(own) - 4} more' if len(own) > 4 else ''}"
    return [Against(Kind.ASSEMBLY, "release.assembly", "", titled("release.assembly"), words, (), "assembly")]


def _dispositions(sheet: Sheet) -> list[Against]:
    """Findings nothing was decided on, parts that still wait, and work that is out of the house."""
    if received(sheet.events) is None:
        return []
    decided = disposed(sheet.events)
    at = {d.place for d in decided}
    words = []
    waits = [d for d in decided if d.what is What.QUARANTINE]
    out = [d for d in decided if d.what is What.SEND]
    seen = {p for f in findings(sheet.events) if not f.absent and _bad(f.sign) for p in f.places}
    if undecided := sorted(seen - at):
        words.append(f"nothing decided where signs were found: {_few(undecided, len(sheet.places))}")
    words += [f"{kinds()[d.part].title} of {d.place} in quarantine" for d in waits[:3]]
    words += [f"{kinds()[d.part].title} of {d.place} is out of the house" for d in out[:3]]
    words.append("it is not sent on: the next revision is not made")
    told = "; ".join(words)
    return [Against(Kind.DISPOSITION, "release.dispositions", "", _TITLES["release.dispositions"], told, (), "back")]


def _bad(sign: str) -> bool:
    return sign in signs() and not signs()[sign].normal


def _orders(sheet: Sheet) -> list[Against]:
    own = [x for x in lines(sheet.events) if x.open]
    if not own:
        return []
    told = "; ".join(f"{x.order.part}: {x.state.value}" for x in own[:4])
    words = f"{len(own)} lines are open: {told}{f' and {len(own) - 4} more' if len(own) > 4 else ''}"
    return [Against(Kind.ORDER, "release.orders", "", titled("release.orders"), words, (), "orders")]


def digest(document: str) -> str:
    """By what a signed document is known: SHA-256 of its text as it is stored, in hexadecimal."""
    return hashlib.sha256(document.encode()).hexdigest()


def sign(
    found: Sequence[Against], revision: int, document: str, marks: tuple[int, int], answers: str, next_look: str,
    by: Sitting,
) -> Released:  # fmt: skip
    """The signature. Raises ``FieldError`` while anything stands that no name let pass, without a hand, or where nobody
    answers for clearance."""
    if by.hand == "workshop":
        raise FieldError("hand", "Whose hand signs? It has a name.")
    standing = [a for a in found if a.standing]
    if standing:
        raise FieldError(
            "against", f"{len(standing)} things stand against it: mend them, or let each pass by name and reason."
        )
    if not answers:
        raise FieldError("answers", "Who answers for clearance? A name.")
    if not next_look:
        raise FieldError("next_look", "When is it looked at next? A distance, hours or a date.")
    waived = tuple(
        f"{a.title}{f', {a.side}' if a.side else ''}: {a.words} – {_by(a.waived)}" for a in found if a.waived
    )
    return Released(0, revision, *marks, digest(document), answers, tuple(w[:400] for w in waived), next_look, by)


def _by(w: Waived) -> str:
    return f"{w.by.hand}, until {w.until}: {w.reason}"
