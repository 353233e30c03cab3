"""Questions about what is not there: one answer, said by a hand, settles several fields at once."""

from collections.abc import Callable
from dataclasses import dataclass

from arcstack.document.edit import change, clear, get
from arcstack.document.entry import NONE, Absent, Entry, Sitting
from arcstack.document.model import SIDES, Build
from arcstack.errors import FieldError

_PHASER = ("cam.phaser_advance", "cam.phaser_retard")


@dataclass(frozen=True)
class Question:
    """What is asked, the answers it takes by their words, and the fields that each answer says are *none*."""

    key: str
    asks: str
    answers: tuple[str, ...]
    none: Callable[[str], tuple[str, ...]]
    open: Callable[[str], tuple[str, ...]] = lambda answer: ()
    """Fields that are a figure's to say once it is answered so: a *none* there is taken back."""


def _on(sides: tuple[str, ...], *paths: str) -> tuple[str, ...]:
    return tuple(f"{side}.{path}" for side in sides for path in paths)


_WITHOUT = {"none": SIDES, "intake": ("exhaust",), "exhaust": ("intake",), "both": ()}


def _with(answer: str) -> tuple[str, ...]:
    return tuple(s for s in SIDES if s not in _WITHOUT[answer])


QUESTIONS: tuple[Question, ...] = (
    Question(
        "phaser", "Is there a phaser?", tuple(_WITHOUT), lambda a: _on(_WITHOUT[a], *_PHASER),
        lambda a: _on(_with(a), *_PHASER),
    ),
    Question("milled", "Head or block cut since the drop was taken?", ("no",), lambda a: ("engine.milling",)),
    Question("pin", "Piston pins offset?", ("no",), lambda a: ("engine.pin_offset",)),
    Question(
        "offsets", "Retainers, locks and grooves standard?", ("yes",),
        lambda a: _on(SIDES, "stack.retainer.offset", "stack.locks.offset", "stack.valve.groove_offset"),
    ),
    Question(
        "locator", "Locators under the springs?", ("no",),
        lambda a: _on(SIDES, "stack.locator.thickness", "stack.locator.step"),
    ),
    Question("lash_shim", "Lash shims or caps?", ("no",), lambda a: _on(SIDES, "follower.shim_mass")),
)  # fmt: skip


def question(key: str) -> Question:
    """Raises ``FieldError`` for a question that nobody asks."""
    for found in QUESTIONS:
        if found.key == key:
            return found
    raise FieldError(key, "There is no such question.")


GIVEN = "by its figures"
"""What is said of a question whose fields are all filled, though not as one answer would fill them."""


def answered(build: Build, asked: Question) -> str:
    """The answer that stands in the fields, or an empty text while it is not known."""
    for answer in asked.answers:
        open_sides = {path.split(".")[0] for path in asked.open(answer)}
        spoken = all(any(_is_figure(build, p) for p in asked.open(answer) if p.startswith(s)) for s in open_sides)
        if spoken and all(_is_none(build, p) for p in asked.none(answer)):
            return answer
    paths = [p for answer in asked.answers for p in (*asked.none(answer), *asked.open(answer))]
    return GIVEN if all(get(build, p) is not None for p in paths) else ""


def answer(build: Build, asked: Question, said: str, by: Sitting) -> Build:
    """The document with an answer put into its fields; ``by`` is who said it.

    A figure that stands in a field the answer speaks of is not overridden: it says otherwise, and ``FieldError`` names
    it. Raises ``FieldError`` too for an answer that the question does not take.
    """
    if said not in asked.answers:
        raise FieldError(asked.key, f"Answer one of {', '.join(asked.answers)}.")
    for path in asked.none(said):
        held = get(build, path)
        if isinstance(held, Entry) and held.value != 0.0:
            raise FieldError(path, f"A figure stands there, {held.typed}: clear it first, if there is none.")
    for path in asked.open(said):
        if _is_none(build, path) and not any(_is_figure(build, p) for p in asked.open(said)):
            build = clear(build, path)
    for path in asked.none(said):
        build = change(build, path, NONE, by=by)
    return build


def _is_none(build: Build, path: str) -> bool:
    return isinstance(get(build, path), Absent)


def _is_figure(build: Build, path: str) -> bool:
    return isinstance(get(build, path), Entry)
