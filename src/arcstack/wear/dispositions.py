"""What becomes of each part: what every choice asks for first, and what tempting remedies ask."""

import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources
from types import MappingProxyType

from arcstack.assess import bench as bench_checks
from arcstack.assess.context import Context, known
from arcstack.document import Build, Sitting
from arcstack.document.parts import Filling, Pack
from arcstack.document.places import Place
from arcstack.document.words import one_line
from arcstack.errors import FieldError, QuantityError
from arcstack.readings import Sheet
from arcstack.readings.returning import (
    OPEN_QUESTION,
    Disposed,
    Found,
    Named,
    Remedy,
    What,
    cause_at,
    disposed,
    findings,
)
from arcstack.settings import setting
from arcstack.units import FINE_LENGTH, LENGTH, Dimension, System, parse, show
from arcstack.wear.diagnosis import last_look
from arcstack.wear.signs import causes, remedies, signs

LEAST_REASON = 3
LONGEST = int(setting("assembly.longest_text"))
MOST_COST, MOST_CUT_MM = setting("wear.most_cost"), setting("bench.most_cut")


@dataclass(frozen=True)
class Kind:
    """A kind of part: what may become of it, and whether one of it is replaced or the set, with the reason."""

    key: str
    title: str
    choices: tuple[What, ...]
    as_set: bool
    why: str


def by_set(kind: Kind, build: Build) -> tuple[bool, str]:
    """Whether a kind of part is replaced as a set in this build, and by what: the build's own decision where it made
    one, else the default of its kind."""
    decision = build.decisions.get("replacing")
    if decision is not None and decision.choice in ("one", "set"):
        return decision.choice == "set", f"this build decided so: {decision.reason}"
    return kind.as_set, kind.why


@cache
def kinds() -> Mapping[str, Kind]:
    """Every kind of part by its key."""
    rows = tomllib.loads((resources.files("arcstack.wear") / "kinds.toml").read_text("utf-8"))["kinds"]
    found = [Kind(r["key"], r["title"], tuple(What(c) for c in r["choices"]), r["as_set"], r["why"]) for r in rows]
    return MappingProxyType({k.key: k for k in found})


@dataclass(frozen=True)
class Asked:
    """A figure or an answer that a choice asks for. ``dimension`` is None for words; ``tick`` is said by one."""

    key: str
    label: str
    dimension: Dimension | None = None
    tick: bool = False


_LEDGER = (Asked("to", "Sent to"), Asked("instruction", "With what instruction"))

_ASKS: Mapping[tuple[str, What], tuple[Asked, ...]] = MappingProxyType(
    {
        ("journal", What.POLISH): (
            Asked("shaft", "Shaft, after", LENGTH), Asked("bore", "Bore, after", LENGTH),
        ),
        ("bucket", What.POLISH): (
            Asked("outside", "Bucket, after", LENGTH), Asked("bore", "Its bore, after", LENGTH),
        ),
        ("valve", What.REFACE): (
            Asked("cut", "Face cut by", LENGTH), Asked("runout", "Runout on V-blocks", FINE_LENGTH),
            Asked("margin", "Margin left", LENGTH),
            Asked("witness", "A full, unbroken witness all round", tick=True),
        ),
        ("seat", What.RECUT): (
            Asked("depth", "Seat cut by", LENGTH), Asked("left", "Height left to take", LENGTH),
        ),
    }
)  # fmt: skip


def asks(kind: str, what: What) -> tuple[Asked, ...]:
    """What a choice asks for, part by part."""
    return _ASKS.get((kind, what), _LEDGER if what is What.SEND else ())


CLEARANCES: Mapping[str, tuple[float, float, float]] = MappingProxyType(
    {
        "journal": (setting("wear.journal_least"), setting("wear.journal_most"), setting("wear.journal_retire")),
        "bucket": (setting("wear.bucket_least"), setting("wear.bucket_most"), setting("wear.bucket_retire")),
    }
)
"""Of what runs in oil: the least and most clearance as new, and from where it is retired, mm."""

MOST_RUNOUT_MM = setting("wear.most_runout")


def cautions(ctx: Context, kind: str, what: What) -> tuple[str, ...]:
    """What a choice can do to the hand that carries it out."""
    told = []
    stack = ctx.side.stack
    if kind == "valve" and stack.valve.filling is Filling.SODIUM and what in (What.REFACE, What.SCRAP, What.SEND):
        told.append("Sodium inside: never ground at the tip, cut or thrown away wet. It burns on water.")
    if kind == "valve" and stack.valve.filling is Filling.UNSTATED and what in (What.REFACE, What.SCRAP):
        told.append("Whether this valve is solid, hollow or filled with sodium is not said: find out before it is cut.")
    if kind == "valve" and stack.valve.material.value == "titanium" and what is What.REFACE:
        told.append("Titanium: its dust burns, and a coated face is not refaced.")
    if kind in ("seat", "guide") and what in (What.RECUT, What.REPLACE):
        told.append("Dust of copper-beryllium is poison: know the metal before it is cut, and cut it wet.")
    return tuple(told)


def dispose(
    sheet: Sheet,
    ctx: Context,
    place: Place,
    kind: str,
    what: What,
    typed: Mapping[str, str],
    by: Sitting,
    system: System = System.MM,
) -> Disposed:
    """What becomes of a part. Raises ``FieldError`` that says which measurement it wants, or what stands against it."""
    if by.hand == "workshop":
        raise FieldError("hand", "Whose hand decides? It has a name.")
    if kind not in kinds() or what not in kinds()[kind].choices:
        raise FieldError("what", "That is nothing that becomes of this part.")
    fields, values = _answers(kind, what, typed, system)
    note = one_line(typed.get("note", ""), LONGEST)
    _held(sheet, ctx, place, kind, what, values, note)
    return Disposed(0, kind, place.label, what, by, fields, _cost(typed), typed.get("cause", "")[:40], note)


def _answers(
    kind: str, what: What, typed: Mapping[str, str], system: System
) -> tuple[dict[str, str], dict[str, float]]:
    fields: dict[str, str] = {}
    values: dict[str, float] = {}
    for a in asks(kind, what):
        text = one_line(typed.get(a.key, ""), LONGEST)
        if not text:
            raise FieldError(a.key, f"{what.value.capitalize()} asks for this first: {_low(a.label)}.")
        fields[a.key] = text
        if a.dimension is None:
            continue
        try:
            read = parse(text, a.dimension, a.dimension.unit(system))
        except QuantityError as error:
            raise FieldError(a.key, f"{a.label}: {error}") from error
        if read.value < 0.0:
            raise FieldError(a.key, f"{a.label}: below nought is metal given back.")
        fields[a.key], values[a.key] = read.typed, read.value
    return fields, values


def _low(words: str) -> str:
    return words[0].lower() + words[1:]


def _cost(typed: Mapping[str, str]) -> float | None:
    text = typed.get("cost", "").replace(",", "").strip()
    if not text:
        return None
    try:
        value = float(text)
    except ValueError as error:
        raise FieldError("cost", "A cost is a number, in the shop's money.") from error
    if not 0.0 <= value <= MOST_COST:
        raise FieldError("cost", f"A cost lies between 0 and {MOST_COST:,.0f}.")
    return value


def _held(
    sheet: Sheet, ctx: Context, place: Place, kind: str, what: What, values: Mapping[str, float], note: str
) -> None:
    """Raise ``FieldError`` where a measurement does not allow the choice."""
    for name in ("depth", "cut"):
        if values.get(name, 0.0) > MOST_CUT_MM:
            raise FieldError(name, f"Nothing takes more than {show(MOST_CUT_MM, LENGTH)} off at once: look again.")
    _not_again(sheet, place, kind, what, note)
    if kind == "valve" and what in (What.REUSE, What.REFACE):
        _not_suspect(sheet, place, note)
    match kind, what:
        case (("journal" | "bucket"), What.POLISH):
            inside = values["shaft" if kind == "journal" else "outside"]
            _runs(kind, values["bore"] - inside)
        case "valve", What.REFACE:
            if values["runout"] > MOST_RUNOUT_MM + 1e-9:
                words = show(MOST_RUNOUT_MM, FINE_LENGTH)
                raise FieldError("runout", f"More than {words} of runout is a bent valve: quarantine, no reface.")
            least = ctx.limit("valve.margin").low
            if least is not None and values["margin"] < least - 1e-9:
                raise FieldError("margin", f"Less than {show(least, LENGTH)} of margin: it would glow. Replace it.")
        case "seat", What.RECUT:
            if values["depth"] > values["left"] + 1e-9 and len(note) < LEAST_REASON:
                told = "That cuts more than is left to take: the metal does not come back."
                raise FieldError("depth", f"{told} Or let it pass by a note that says why.")
        case _, What.QUARANTINE:
            if len(note) < LEAST_REASON:
                raise FieldError("note", "Say what it waits for, magnified, dye-tested or measured, and where it lies.")
        case "springs", What.REUSE:
            _tested(sheet, place)
        case _, What.REPLACE if by_set(kinds()[kind], sheet.build)[0]:
            if len(note) < LEAST_REASON:
                why = by_set(kinds()[kind], sheet.build)[1]
                raise FieldError("note", f"As a set: {why} For one alone, say why.")
        case "valve", What.REUSE:
            found = known(lambda: bench_checks.runout(ctx))
            if found is not None and found.value > MOST_RUNOUT_MM + 1e-9:
                raise FieldError("what", f"Its runout is {show(found.value, FINE_LENGTH)}: quarantine, no reuse.")

    if kind == "seat" and what is What.RECUT:
        _springs_too(sheet, place, note)


SUSPECT = ("stem_blue", "bent")


def _not_suspect(sheet: Sheet, place: Place, note: str) -> None:
    """Raise ``FieldError`` for a valve that was found blue or bent, unless a note says how it was cleared."""
    seen = [f.sign for f in standing_at(findings(sheet.events), place) if f.sign in SUSPECT and not f.absent]
    if seen and len(note) < LEAST_REASON:
        title = signs()[seen[0]].title.lower()
        words = "Quarantine it until it is magnified or dye-tested, or note how it was cleared."
        raise FieldError("what", f"Found there: {title}. {words}")


def standing_at(found: Sequence[Found], place: Place) -> tuple[Found, ...]:
    """Findings at one place, or of the whole head, that no later look contradicts."""
    return tuple(f for f in last_look(found) if not f.places or place.label in f.places)


def _runs(kind: str, clearance_mm: float) -> None:
    least, _, retire = CLEARANCES[kind]
    words = show(clearance_mm, FINE_LENGTH)
    if clearance_mm <= 0.0:
        raise FieldError("bore", f"The bore is no larger than what runs in it ({words}): measure both again.")
    if clearance_mm >= retire - 1e-9:
        raise FieldError("bore", f"{words} of clearance: retired from {show(retire, FINE_LENGTH)} on. Replace it.")
    if clearance_mm < least - 1e-9:
        raise FieldError("bore", f"{words} of clearance is under {show(least, FINE_LENGTH)}: it would hang when hot.")


_KINDS = {
    "spring": "springs", "valve": "valve", "seat": "seat", "follower": "bucket", "lobe": "cam", "journal": "journal",
    "seal": "seal", "retainer": "retainer", "locks": "locks",
}  # fmt: skip


def part_of(sign: str) -> str:
    """The kind of part that a sign was found on; empty for what is no part by itself.

    >>> part_of("spring_broken"), part_of("shades")
    ('springs', '')
    """
    return _KINDS.get(signs()[sign].part, "")


NOT_AGAIN = ("spring_broken", "spring_pitted", "rust", "bent", "crown_dished")
"""Signs after which the part that they were found on is used no more: broken, pitted, bent, dished."""

CAUSE_FIRST = ("rings_gone", "seat_hammered", "face_step")
"""Signs after which a part is used again only once the cause is known: a bucket that stopped, a hammered seat."""

_USED_AGAIN = (What.REUSE, What.POLISH, What.REFACE, What.RECUT, What.SPARE)


def _not_again(sheet: Sheet, place: Place, kind: str, what: What, note: str) -> None:
    """Raise ``FieldError`` where what was found of a part decides what may become of it."""
    if what not in _USED_AGAIN:
        return
    for f in standing_at(findings(sheet.events), place):
        if f.absent or part_of(f.sign) != kind:
            continue
        title = signs()[f.sign].title.lower()
        if f.sign in NOT_AGAIN:
            raise FieldError(
                "what", f"Found there: {title}. It is not used again; take the finding back if it is wrong."
            )
        cause = cause_at(sheet.events, place)
        if f.sign in CAUSE_FIRST and cause is None and len(note) < LEAST_REASON:
            raise FieldError(
                "what", f"Found there: {title}. Name its cause first, or note why it is used all the same."
            )


def _springs_too(sheet: Sheet, place: Place, note: str) -> None:
    """Raise ``FieldError`` for a seat cut anew under springs that nobody decided on, unless a note says why."""
    decided = any(d.part == "springs" and d.place == place.label for d in disposed(sheet.events))
    if not decided and len(note) < LEAST_REASON:
        told = "What beat the seat beat the springs: decide on them first, tested or replaced, or note why they stay."
        raise FieldError("what", told)


def _tested(sheet: Sheet, place: Place) -> None:
    """Springs are used again only where each has a serial and was read in service: a tick is no tester."""
    names = ("outer", "inner") if sheet.build.side(place.side).stack.pack is Pack.DUAL else ("outer",)
    for name in names:
        item = sheet.item_at(place.label, name)
        if not item:
            words = f"The {name} spring of {place.label} has no serial: what has no number cannot have been tested."
            raise FieldError("what", words)
        if sheet.before_and_after(item, f"{name}.load_1") is None:
            raise FieldError("what", f"{item} was not read after service, at the height it was read at before.")


def worn(kind: str, clearance_mm: float) -> bool:
    """Whether what runs in oil has more clearance than as new, and is not yet to be retired.

    >>> worn("journal", 0.05), worn("journal", 0.09)
    (False, True)
    """
    return clearance_mm > CLEARANCES[kind][1] + 1e-9


def name_cause(cause: str, reason: str, by: Sitting, at: str = "") -> Named:
    """The cause that a hand says it was, of the whole head or ``at`` a side, a cylinder or a place of it; or that it is
    an open question. Raises ``FieldError`` without a name, a cause or a reason."""
    words = one_line(reason, LONGEST)
    if by.hand == "workshop":
        raise FieldError("hand", "Whose hand says so? It has a name.")
    if cause not in causes() and cause != OPEN_QUESTION:
        raise FieldError("cause", "Say which cause it was.")
    if len(words) < LEAST_REASON:
        raise FieldError("reason", "Say what shows it: which sign, or which reading.")
    return Named(0, cause, words, by, at)


def take_remedy(remedy: str, found: Sequence[Named], reason: str, by: Sitting) -> Remedy:
    """A tempting remedy. It passes where its cause was found, or by a name and a reason. Raises ``FieldError`` else."""
    if remedy not in remedies():
        raise FieldError("remedy", "That is no remedy known here.")
    tempting, words = remedies()[remedy], one_line(reason, LONGEST)
    if by.hand == "workshop":
        raise FieldError("hand", "Whose hand takes it? It has a name.")
    answering = next((n.cause for n in found if n.cause in tempting.asks), "")
    if not answering and len(words) < LEAST_REASON:
        asked = ", ".join(causes()[c].title.lower() for c in tempting.asks)
        words = f"Find the cause first ({asked}), or say why it is done all the same."
        raise FieldError("remedy", f"{tempting.why} {words}")
    return Remedy(0, remedy, answering, words, by)


TAKEN_OUT = (What.REPLACE, What.REPLACE_SET, What.QUARANTINE, What.SPARE, What.SCRAP)
"""After these a part no longer stands in its place."""
