"""A head put together: its steps, how it is set up, its tools, and what another hand reads again."""

from collections.abc import Mapping

from arcstack.application.acts.acting import act, by_name
from arcstack.application.head import Opened
from arcstack.assembly import doing
from arcstack.assembly.doing import Limits
from arcstack.assembly.progress import Standing, standings
from arcstack.assembly.second import Again, read_again, table
from arcstack.assembly.steps import tools_of
from arcstack.document import Sitting
from arcstack.errors import FieldError, QuantityError
from arcstack.readings.assembling import Held, ReadAgain, SetUp, State, Stepped, Tooled, Where, tools_held
from arcstack.settings import setting
from arcstack.units import LENGTH, System, parse

LIMITS = ("bucket.clearance", "second.height")
MOST_STANDING_DAYS, MOST_APART_MM = setting("assembly.most_standing"), setting("second.wild")


def limits_of(head: Opened) -> Limits:
    """The limits that steps are held to."""
    return {key: head.design.sides[head.side].limit(key) for key in LIMITS}


def again_of(head: Opened) -> tuple[Again, ...]:
    """What another hand reads a second time, and how it stands."""
    most = limits_of(head)["second.height"].high
    assert most is not None
    return table(head.sheet, most)


def stood(head: Opened) -> tuple[Standing, ...]:
    """Every step of a head as it stands."""
    return standings(head.sheet, again_of(head))


def _step(head: Opened, name: str) -> Standing:
    found = next((s for s in stood(head) if s.step.id == name), None)
    if found is None:
        raise FieldError("step", "There is no such step.")
    return found


def begin(head: Opened, by: Sitting, *, step: str, typed: Mapping[str, str], system: System) -> None:
    """Begin a step, or keep what was typed of it so far."""

    def decided(now: Opened) -> list[Stepped]:
        this = _step(now, step)
        _not_closed(this)
        return [doing.begun(this.step, now.sheet, typed, by, system)]

    act(head, decided)


def finish(head: Opened, by: Sitting, *, step: str, typed: Mapping[str, str], system: System) -> None:
    """Say that a step is done. What was typed is kept, whatever is still short."""

    def decided(now: Opened) -> list[Stepped]:
        this = _step(now, step)
        _not_closed(this)
        return [doing.done(this, now.sheet, typed, by, limits_of(now), system)]

    try:
        act(head, decided)
    except FieldError:
        this = _step(head.anew(), step)
        if not this.closed and not this.waits:
            begin(head, by, step=step, typed=typed, system=system)
        raise


def _not_closed(this: Standing) -> None:
    if this.closed:
        raise FieldError("act", f"{this.step.title} is {this.state.value}: reopen it first.")


def skip(head: Opened, by: Sitting, *, step: str, reason: str) -> None:
    """Let a step go, for a reason."""
    act(head, lambda now: [doing.skipped(_step(now, step), reason, by)])


def reopen(head: Opened, by: Sitting, *, step: str, reason: str) -> None:
    """Undo a step: what was typed stays."""
    act(head, lambda now: [doing.reopened(_step(now, step), reason, by)])


def stays_open(head: Opened, step: str) -> bool:
    """Whether a step is one to go on with: begun, or reopened."""
    return _step(head.anew(), step).state in (State.DOING, State.REOPENED)


def set_up(head: Opened, by: Sitting, *, where: Where | None, standing_days: float | None) -> None:
    """Say where the head goes together and for how long it will stand."""
    if standing_days is None:
        raise FieldError("days", "Days until it is started: a number, as 3 or 30.")
    if where is None or not 0.0 <= standing_days <= MOST_STANDING_DAYS:
        raise FieldError("days", f"Days until it is started lie between 0 and {MOST_STANDING_DAYS:,.0f}.")
    act(head, lambda _: [SetUp(0, where, standing_days, by)])


def hold_tools(head: Opened, by: Sitting, *, tools: Mapping[str, Held], rest_owned: bool) -> None:
    """Say how each tool comes to hand, or that a borrowed one was given back; ``rest_owned`` says it of all others."""

    def decided(now: Opened) -> list[Tooled]:
        held, found = tools_held(now.sheet.events), []
        for key in tools_of(now.sheet):
            named = tools.get(key)
            if named is None and key not in held and rest_owned:
                named = Held.OWNED
            if named is not None and held.get(key) is not named:
                found.append(Tooled(0, key, named, by))
        return found

    act(head, decided)


def read_second(head: Opened, by: Sitting, *, texts: Mapping[str, str], system: System) -> None:
    """Take what another hand read, by figure and place: all of it or none."""

    def decided(now: Opened) -> list[ReadAgain]:
        by_name(by, "Whose hand reads it again?")
        taken = []
        for row in again_of(now):
            text = texts.get(f"{row.key}.{row.place.label}", "").strip()
            if not text:
                continue
            about = f"{row.label} of {row.place.label}"
            try:
                read = parse(text, LENGTH, LENGTH.unit(system))
            except QuantityError as error:
                raise FieldError("second", f"{about}: {error}") from error
            if row.first_mm is not None and abs(read.value - row.first_mm) > MOST_APART_MM:
                raise FieldError("second", f"{about}: {read.typed} is far from the first. Look again.")
            taken.append(read_again(row, read.value, read.typed, by))
        if not taken:
            raise FieldError("second", "Nothing was typed.")
        return taken

    act(head, decided)
