"""How each step of an assembly stands: what it waits for, why it was reopened, and what is counted by now."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from arcstack.assembly.counts import counts_of
from arcstack.assembly.second import Again, wanting
from arcstack.assembly.steps import Step, steps_of, tools_of
from arcstack.document import FIELDS, SIDES, Sitting, get
from arcstack.readings import Cut, Put, Sheet
from arcstack.readings.assembling import Held, State, Stepped, tools_held
from arcstack.readings.sent_on import this_life
from arcstack.readings.sheet import said


@dataclass(frozen=True)
class Standing:
    """One step as it stands. ``waits`` is what must come first, ``why`` the reason of a skip or of its being reopened,
    ``minutes`` how long it took from begun to done."""

    step: Step
    state: State
    fields: Mapping[str, str]
    by: Sitting | None
    why: str
    waits: tuple[str, ...]
    minutes: float | None

    blocked: bool = False
    """Whether a step before it is still open."""

    @property
    def closed(self) -> bool:
        return self.state in (State.DONE, State.SKIPPED)


def rests_now(step: Step, sheet: Sheet) -> dict[str, str]:
    """The parts that a step is done with, as they stand."""
    found = {}
    for name in step.rests:
        for side in SIDES:
            path = _path(sheet, side, name)
            found[path] = said(get(sheet.build, path))
    return found


def _path(sheet: Sheet, side: str, name: str) -> str:
    if name == "follower":
        return f"{side}.follower.{sheet.build.engine.follower.value}.code"
    return f"{side}.{name}" if name.startswith("cam.") else f"{side}.stack.{name}"


def standings(sheet: Sheet, again: Sequence[Again] = ()) -> tuple[Standing, ...]:
    """Every step of the head. ``again`` is the second reading, which its step waits for."""
    by_step: dict[str, list[Stepped]] = {}
    for e in this_life(sheet.events):
        if isinstance(e, Stepped):
            by_step.setdefault(e.step, []).append(e)
    found: dict[str, Standing] = {}
    for step in steps_of(sheet):
        found[step.id] = _standing(step, sheet, by_step, found, again)
    return tuple(found.values())


def _standing(
    step: Step,
    sheet: Sheet,
    by_step: Mapping[str, list[Stepped]],
    before: Mapping[str, Standing],
    again: Sequence[Again],
) -> Standing:
    own = by_step.get(step.id, [])
    last = own[-1] if own else None
    state, why = (last.state, last.reason) if last else (State.TO_DO, "")
    if last is not None and state in (State.DONE, State.SKIPPED):
        told = _undone(step, sheet, last, before, by_step)
        if told:
            state, why = State.REOPENED, told
    needs = [before[n] for n in step.needs]
    waits = tuple(f"{s.step.title} is {s.state.value}" for s in needs if not s.closed)
    waits += _gates(step, sheet, again)
    if last is not None and state is State.DONE and (more := _gates(step, sheet, again)):
        state, why = State.REOPENED, more[0]
    return Standing(
        step,
        state,
        last.fields if last else {},
        last.by if last else None,
        why,
        waits,
        _minutes(own),
        any(not s.closed for s in needs),
    )


def _gates(step: Step, sheet: Sheet, again: Sequence[Again]) -> tuple[str, ...]:
    """What stands against a step beside the steps before it."""
    if step.id == "second":
        return wanting(again)
    if step.id == "tools":
        held = tools_held(sheet.events)
        unsaid = [words for key, words in tools_of(sheet).items() if key not in held]
        missing = [words for key, words in tools_of(sheet).items() if held.get(key) is Held.MISSING]
        told = [f"{len(unsaid)} tools are not said yet"] if unsaid else []
        return (*told, *(f"{words}: not there" for words in missing))
    if step.id == "heights":
        touched = touched_since(sheet)
        return (f"read installed height again at {', '.join(touched)}",) if touched else ()
    return ()


def touched_since(sheet: Sheet) -> list[str]:
    """Places where anything under the retainer was exchanged, or metal cut, after installed height was last read."""
    found = []
    for place in sheet.places:
        settled = sheet.settled(place, "installed_height")
        if settled is None:
            continue
        moved = [e.number for e in sheet.events if isinstance(e, Put | Cut) and e.place == place.label]
        if settled.stale or any(m > settled.last.number for m in moved):
            found.append(place.label)
    return found


def _undone(
    step: Step, sheet: Sheet, done: Stepped, before: Mapping[str, Standing], by_step: Mapping[str, list[Stepped]]
) -> str:
    """Which change since has reopened a step, in words; empty while it holds."""
    for need in step.needs:
        was = before[need]
        if any(e.state is State.REOPENED and e.number > done.number for e in by_step.get(need, ())):
            return f"{was.step.title} was reopened after it"
        if any(e.state in (State.DONE, State.SKIPPED) and e.number > done.number for e in by_step.get(need, ())):
            return f"{was.step.title} was done again after it"
        if was.state is State.REOPENED:
            return f"{was.step.title} is reopened"
    for path, now in rests_now(step, sheet).items():
        if path in done.rests and done.rests[path] != now:
            side, label = path.partition(".")[0], FIELDS[path].label
            return f"{label}, {side}, was {done.rests[path] or 'not known'} and is {now or 'not known'}"
    for count in counts_of(step, sheet, done.fields) if done.state is State.DONE else ():
        counted = done.fields.get(f"count.{count.key}", "")
        if count.wanted is not None and counted.isdigit() and int(counted) != count.wanted:
            return f"{count.title}: {counted} were counted and {count.wanted} are wanted now"
    for e in sheet.events:
        if isinstance(e, Put) and e.sort in step.items and e.number > done.number:
            return f"{e.sort.capitalize()} {e.item} was moved after it"
        if isinstance(e, Cut) and step.cuts and e.number > done.number:
            return f"{e.place} was cut after it"
    return ""


def _minutes(own: Sequence[Stepped]) -> float | None:
    done = next((e for e in reversed(own) if e.state is State.DONE), None)
    if done is None:
        return None
    begun = [e for e in own if e.state is State.DOING and e.number < done.number]
    if not begun or begun[-1].by.at is None or done.by.at is None:
        return None
    return (done.by.at - begun[0].by.at).total_seconds() / 60.0 if begun[0].by.at else None


def after(step: Step, found: Sequence[Standing]) -> list[Standing]:
    """Steps that stand on a step, at any remove, and are done: they are reopened with it."""
    reached, rows = {step.id}, []
    for s in found:
        if set(s.step.needs) & reached:
            reached.add(s.step.id)
            if s.closed:
                rows.append(s)
    return rows


def counted(found: Sequence[Standing], sheet: Sheet) -> tuple[int, int]:
    """Parts counted into the head by now, and how many it takes: what is left on the bench is the difference."""
    into = frozenset(
        ("valves", "locators", "shims", "seals", "outer", "inner", "retainers", "locks", "buckets", "lash_shims",
         "followers", "lash_caps", "caps")
    )  # fmt: skip
    have = total = 0
    for s in found:
        for c in counts_of(s.step, sheet, s.fields):
            if c.wanted is None or c.key.partition(".")[0] not in into:
                continue
            total += c.wanted
            have += c.wanted if s.state is State.DONE else 0
    return have, total


def next_step(found: Sequence[Standing]) -> Standing | None:
    """The first step that is not closed, and whose steps before it are."""
    open_ = [s for s in found if not s.closed]
    return next((s for s in open_ if not s.blocked), open_[0] if open_ else None)
