"""A check let pass by a name, a gate signed with what stands against it, and what a signature asks for."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from enum import StrEnum

from arcstack.application.acts.acting import act, by_name, day_of
from arcstack.application.acts.assembling import stood
from arcstack.application.head import Opened
from arcstack.application.record import sign_off
from arcstack.checks import Level
from arcstack.document import SIDES, Sitting
from arcstack.errors import FieldError
from arcstack.evidence import passing
from arcstack.readings import Signed, Waived
from arcstack.readings.assembling import State
from arcstack.record.owed import Owed, owed, waived
from arcstack.settings import setting
from arcstack.trials.lashing import judged
from arcstack.trials.mocked import stands_against

GATES = {"paper": "The paper check", "bench": "The bench", "assembly": "Assembly"}

MOST_TOLD, LONGEST_TOLD = int(setting("gates.most_told")), int(setting("gates.longest_told"))


class At(StrEnum):
    """Where a thing that stands against a gate is mended."""

    DESIGN = "design"
    BUILT = "built"
    LASH = "lash"
    MOCK_UP = "mock-up"
    READINGS = "readings"
    STEP = "step"


@dataclass(frozen=True)
class Against:
    """One thing that stands against a gate, in words, and where it is mended: of a side, by its key, at a place."""

    words: str
    at: At
    side: str
    key: str = ""
    place: str = ""


@dataclass(frozen=True)
class Gate:
    """A gate: what stands against it, who signed it, and how many revisions have been made since."""

    key: str
    title: str
    against: tuple[Against, ...]
    signed: Signed | None
    since: int


def gates(head: Opened) -> list[Gate]:
    """The gates of a head, in the order of the work."""
    found = []
    for key, against in (("paper", _on_paper(head)), ("bench", _at_bench(head)), ("assembly", _unassembled(head))):
        signed = head.sheet.signed(key)
        since = head.current.revision - signed.revision if signed is not None else 0
        found.append(Gate(key, GATES[key], tuple(against), signed, since))
    return found


def _on_paper(head: Opened) -> list[Against]:
    return [
        Against(f"{v.title}, {v.side}: {v.level.value}", At.DESIGN, v.side or head.side, v.stage)
        for v in head.design.verdicts
        if v.judges and v.level in (Level.FAIL, Level.OPEN)
    ]


def _at_bench(head: Opened) -> list[Against]:
    found = [
        Against(f"{a.title} fails at {p.label}", At.BUILT, side, a.check, p.label)
        for side in SIDES
        for a in head.built.sides[side]
        for p, v in a.at
        if v.judges and v.level is Level.FAIL
    ]
    for place in head.sheet.places:
        history = head.sheet.lash_of(place)
        level, words = judged(head.design.sides[place.side], history)
        if level is Level.FAIL:
            found.append(Against(f"Lash at {place.label}: {words}", At.LASH, place.side))
    for side in SIDES:
        found += [
            Against(f"Mock-up, {side}: {words}", At.MOCK_UP, side)
            for words in stands_against(head.design, head.sheet, side)
        ]
    if head.rest:
        found.append(Against(f"{len(head.rest)} readings still to take", At.READINGS, head.side))
    return found


def _unassembled(head: Opened) -> list[Against]:
    """Steps of assembly that are not closed, and those that were let go by name."""
    return [
        Against(f"{s.step.title}: {s.state.value}{', ' + s.why if s.why else ''}", At.STEP, head.side, s.step.id)
        for s in stood(head)
        if s.state is not State.DONE
    ]


def sign_gate(head: Opened, by: Sitting, *, gate: str, sure: bool) -> None:
    """Sign a gate, with what stands against it said; ``sure`` where anything does."""

    def decided(now: Opened) -> list[Signed]:
        by_name(by, "Say whose hand signs: name it where the instrument is named.")
        against = next(g for g in gates(now) if g.key == gate).against
        if against and not sure:
            raise FieldError("sure", f"{len(against)} things stand against it: tick that you sign all the same.")
        told = tuple(a.words[:LONGEST_TOLD] for a in against[:MOST_TOLD])
        return [Signed(0, gate, now.current.revision, told, by)]

    act(head, decided)


def let_check_pass(
    head: Opened, by: Sitting, *, check: str, place: str, reason: str, until: str, settles: str, ended: bool
) -> None:
    """Let a check pass at a place by a name: what fails there or is tight, with its figure; or end that."""
    name = Waived(0, check, head.side, place, reason, until, settles, by, ended)

    def decided(now: Opened) -> list[Waived]:
        if ended:
            own = [w for w in now.sheet.waivers if (w.check, w.place) == (check, place)]
            return [passing.checked(replace(w, by=by, ended=True), day_of(by)) for w in own]
        stands = (s for a in now.built.sides[now.side] if a.check == check for s in a.stands)
        v = next((s.verdict for s in stands if s.place.label == place), None)
        if v is None or v.figure is None or v.limit is None or v.level not in (Level.FAIL, Level.TIGHT):
            raise FieldError("check", "There is nothing to let pass: it does not fail there, nor is it tight.")
        if why := passing.never(v.id, v.figure):
            raise FieldError("check", f"{v.title}: {why}.")
        s = passing.stands(v.figure, v.limit)
        held = replace(name, state=v.level.value, figure=s.value, low=s.low, high=s.high)
        return [passing.checked(held, day_of(by))]

    act(head, decided)


def asked_for(head: Opened, today: date) -> tuple[Owed, ...]:
    """Everything that a head's signature asks for."""
    return owed(head.design, head.sheet, head.built, today)


def let_pass(
    head: Opened, by: Sitting, today: date, meant: Callable[[Owed], bool], *, reason: str, until: str, settles: str,
    ended: bool,
) -> None:  # fmt: skip
    """Let what a signature asks for pass by a name, or end that. One entry is kept for each check and place."""
    name = Waived(0, "", "", "", reason, until, settles, by, ended)

    def decided(now: Opened) -> Sequence[Waived]:
        own = [o for o in asked_for(now, today) if o.standing is not ended and not o.waiting and meant(o)]
        if not own:
            raise FieldError("key", "That is not on the list any more: look at it again.")
        never = next((o for o in own if o.never), None)
        if never is not None:
            raise FieldError("key", f"{never.title}: {never.never}.")
        return [passing.checked(waived(o, name), day_of(by)) for o in own]

    act(head, decided)


def lapsed(head: Opened, found: Sequence[Owed]) -> list[Waived]:
    """What a name let pass once that holds no more: another figure, another state, an end that is past."""
    held = {o.passed.number for o in found if o.passed is not None}
    still_open = {(o.key, o.side, o.place) for o in found if o.standing}
    return [
        w
        for w in head.sheet.waivers
        if w.number not in held and ((w.check, w.side, w.place) in still_open or not w.state)
    ]


def sign_head(
    head: Opened, by: Sitting, today: date, *, marks: tuple[int, int] | None, answers: str, next_look: str,
    confirmed: Callable[[], None],
) -> None:  # fmt: skip
    """Sign the newest revision off, with what stands against it as it was shown at ``marks``: the last reading and the
    last event. ``confirmed`` raises where the hand is not who it says.

    Raises ``StaleRevision`` where another hand was faster.
    """
    if marks is None:
        raise FieldError("marks", "The page is too old: look at what stands against it again.")
    if head.design.waiting:
        raise FieldError("against", "The elastic train is still being turned: its verdicts are not known yet.")
    confirmed()
    shop = head.shop
    sign_off(shop.workshop, shop.bench, head.current, asked_for(head, today), marks, answers, next_look, by)
