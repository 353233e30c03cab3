"""A step begun, done, skipped or reopened by a hand: what it must say first."""

from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass

from arcstack.assembly.counts import counts_of
from arcstack.assembly.progress import Standing, rests_now
from arcstack.assembly.steps import Field, Step
from arcstack.checks import Limit
from arcstack.document import Sitting
from arcstack.document.words import one_line
from arcstack.errors import FieldError, QuantityError
from arcstack.readings import Sheet
from arcstack.readings.assembling import State, Stepped
from arcstack.settings import setting
from arcstack.units import FINE_LENGTH, TORQUE, Dimension, Parsed, System, parse, show

LONGEST = int(setting("assembly.longest_text"))
MOST_COUNT = int(setting("assembly.most_count"))
OIL_DAYS, LUBE_DAYS = setting("assembly.oil_days"), setting("assembly.lube_days")
GREASE_DAYS = setting("assembly.grease_days")

LEAST_TEXT, LEAST_REASON = 2, 3

MAKERS = "see the engine maker's data"
"""What is printed where a maker's figure is not given: never a number of ours."""


@dataclass(frozen=True)
class Prelube:
    """What goes on before a head stands, and what is written to whoever starts it."""

    seats: str
    bores: str
    note: str


def prelube(days: float) -> Prelube:
    """What a head takes that stands so many days before it is started.

    >>> prelube(3).bores, prelube(30).bores
    ('oil', 'quick-washing assembly lube')
    >>> prelube(30).seats, prelube(90).bores
    ('thin grease', 'grease')
    """
    seats = "thin grease" if days > GREASE_DAYS else "dry"
    if days < OIL_DAYS:
        return Prelube(seats, "oil", "Prime the oil before the first start; nothing will smoke.")
    if days <= LUBE_DAYS:
        words = "Prime the oil before the first start. Assembly lube smokes for the first minutes."
        return Prelube(seats, "quick-washing assembly lube", words)
    words = "Prime the oil before the first start. Grease on seats and bores smokes until it is burnt and washed away."
    return Prelube(seats, "grease", words)


Limits = Mapping[str, Limit]


def _texts(step: Step, sheet: Sheet, typed: Mapping[str, str], system: System) -> dict[str, str]:
    """What of a form belongs to a step, cut to length, a bare figure with its unit; nothing else is kept."""
    keys = [f.key for f in step.fields]
    keys += [f"{f.key}.{part}" for f in step.fields for part in ("lubricant", "source")]
    keys += [f"count.{c.key}" for c in counts_of(step, sheet, typed)]
    found = {k: one_line(typed.get(k, ""), LONGEST) for k in keys}
    for field in (f for f in step.fields if f.kind in _DIMENSIONS and found[f.key]):
        with suppress(QuantityError):
            found[field.key] = _amount_of(found[field.key], _DIMENSIONS[field.kind], system).typed
    return {k: v for k, v in found.items() if v}


_DIMENSIONS = {"torque": TORQUE, "torque_read": TORQUE, "torque_most": TORQUE, "amount": FINE_LENGTH}


def _amount_of(text: str, dimension: Dimension, system: System = System.MM) -> Parsed:
    return parse(text, dimension, dimension.unit(system))


def begun(step: Step, sheet: Sheet, typed: Mapping[str, str], by: Sitting, system: System = System.MM) -> Stepped:
    """What was typed of a step so far, which is begun."""
    return Stepped(0, step.id, State.DOING, by, "", _texts(step, sheet, typed, system))


def done(
    standing: Standing,
    sheet: Sheet,
    typed: Mapping[str, str],
    by: Sitting,
    limits: Limits,
    system: System = System.MM,
) -> Stepped:
    """A step that is done. Raises ``FieldError`` that says what is missing, short or not to be."""
    step = standing.step
    if by.hand == "workshop":
        raise FieldError("hand", "Whose hand did it? It has a name.")
    if standing.waits:
        raise FieldError("step", f"Not yet: {standing.waits[0]}.")
    texts = _texts(step, sheet, typed, system)
    for field in step.fields:
        _held(field, texts, limits)
    if "turning" in texts and "turning_most" in texts:
        _turns(texts)
    short = []
    for count in counts_of(step, sheet, texts):
        if count.wanted is None:
            raise FieldError(count.key, f"{count.title}: {count.why}.")
        text = texts.get(f"count.{count.key}", "")
        if not text:
            raise FieldError(count.key, f"{count.title}: count them, {count.wanted} are wanted.")
        short.append(count.short(_counted(text, count.title)))
    if any(short):
        raise FieldError("count", f"{'; '.join(s for s in short if s)}. Nothing goes on until it is found.")
    return Stepped(0, step.id, State.DONE, by, "", texts, rests_now(step, sheet))


def _counted(text: str, title: str) -> int:
    try:
        value = int(text)
    except ValueError as error:
        raise FieldError("count", f"{title}: a count is a whole number.") from error
    if not 0 <= value <= MOST_COUNT:
        raise FieldError("count", f"{title}: a count lies between 0 and {MOST_COUNT}.")
    return value


def _held(field: Field, texts: Mapping[str, str], limits: Limits) -> None:
    text, source = texts.get(field.key, ""), texts.get(f"{field.key}.source", "")
    if field.kind == "yes" and text != "yes":
        raise FieldError(field.key, f"Say it by a tick: {field.label[0].lower()}{field.label[1:]}.")
    if field.required and len(text) < LEAST_TEXT:
        raise FieldError(field.key, f"{field.label}: say it in a word or two.")
    if field.kind == "number" and text:
        _counted(text, field.label)
    if field.kind.startswith("torque") and text:
        value = _amount(field, text, TORQUE)
        if value <= 0.0:
            raise FieldError(field.key, f"{field.label}: a torque is above nought.")
    if field.kind == "torque" and text:
        if not texts.get(f"{field.key}.lubricant"):
            raise FieldError(
                field.key,
                f"{field.label}: say what thread and face were lubricated with. The lubricant is part of the torque.",
            )
        if not source:
            raise FieldError(field.key, f"{field.label}: say whose figure it is, and where it stands.")
    if field.kind == "fluid" and text and not source:
        raise FieldError(field.key, f"{field.label}: say by which source.")
    if field.kind == "amount" and text:
        _within(field, text, source, limits)


def _amount(field: Field, text: str, dimension: Dimension) -> float:
    try:
        return _amount_of(text, dimension).value
    except QuantityError as error:
        raise FieldError(field.key, f"{field.label}: {error}") from error


def _within(field: Field, text: str, maker: str, limits: Limits) -> None:
    """A figure against the practice's typical band, unless it is the maker's that it was held to."""
    value, limit = _amount(field, text, FINE_LENGTH), limits.get(field.limit)
    if limit is None or maker or limit.low is None or limit.high is None:
        return
    if not limit.low <= value <= limit.high:
        low, high = (str(show(x, FINE_LENGTH)) for x in (limit.low, limit.high))
        raise FieldError(
            field.key,
            f"{field.label}: {show(value, FINE_LENGTH)} lies outside {low} to {high}, the practice's typical figure. "
            "Where the maker gives another, say where it stands.",
        )


def _turns(texts: Mapping[str, str]) -> None:
    turning, most = (_amount_of(texts[k], TORQUE) for k in ("turning", "turning_most"))
    if turning.value > most.value:
        raise FieldError(
            "turning",
            f"It takes {turning.typed} to turn and may take {most.typed}: find the cap that binds, it comes off.",
        )


def skipped(standing: Standing, reason: str, by: Sitting) -> Stepped:
    """A step let go for a reason. Raises ``FieldError`` for one that is never skipped, without a name or a reason."""
    words = one_line(reason, LONGEST)
    if standing.step.gate:
        raise FieldError("skip", f"{standing.step.title} is not skipped: a head that was not counted is not closed.")
    if standing.state is State.DONE:
        raise FieldError("skip", f"{standing.step.title} is done: reopen it first, if it is to be undone.")
    if by.hand == "workshop":
        raise FieldError("hand", "Whose hand lets it go? It has a name.")
    if len(words) < LEAST_REASON:
        raise FieldError("skip", "Say why it is skipped.")
    return Stepped(0, standing.step.id, State.SKIPPED, by, words, dict(standing.fields))


def reopened(standing: Standing, reason: str, by: Sitting) -> Stepped:
    """A step undone: what was typed stays. Raises ``FieldError`` for one that was not closed."""
    if not standing.closed:
        raise FieldError("step", f"{standing.step.title} is {standing.state.value}: there is nothing to reopen.")
    words = one_line(reason, LONGEST) or "taken back by hand"
    return Stepped(0, standing.step.id, State.REOPENED, by, words, dict(standing.fields))


def maker_words(step: Step, texts: Mapping[str, str]) -> Sequence[tuple[str, str]]:
    """The maker's figures of a step as they are printed: with lubricant and source, or where to look."""
    found = []
    for f in step.fields:
        if f.kind in ("torque", "fluid"):
            text = texts.get(f.key, "")
            more = [texts.get(f"{f.key}.{part}", "") for part in ("lubricant", "source")]
            found.append((f.label, ", ".join(t for t in (text, *more) if t) if text else MAKERS))
    return found
