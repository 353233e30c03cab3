"""A lesson of the learning bench: begun, a fault named, ended; and its truth beside what was found."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from arcstack.application.acts.acting import act
from arcstack.application.head import Opened
from arcstack.application.shop import Shop
from arcstack.application.starts import template
from arcstack.application.workshop import Who
from arcstack.assess import assess
from arcstack.assess.built import built
from arcstack.checks import Level, Verdict
from arcstack.document import SIDES, Build, Sitting
from arcstack.errors import FieldError
from arcstack.readings import FaultNamed, Phase, Taught
from arcstack.readings.learning import Fault, Truth, head_for, served_before, true_sheet, truth
from arcstack.readings.lessons import CONSEQUENCE, LESSONS, SPOILS
from arcstack.readings.lessons import Kind as FaultKind
from arcstack.readings.outcomes import BEFORE_YOU, Outcome, outcome, until_the_end
from arcstack.readings.taking import How
from arcstack.store import Kind, Reason

TEACHES_ON = "bucket"
"""The starting head that lessons are drawn from."""

LARGEST_SEED = 10**6 - 1


@dataclass(frozen=True)
class Planted:
    """A planted fault, what became of it, and what it would have come to by the program's own checks."""

    fault: Fault
    outcome: Outcome
    means: str
    verdicts: tuple[Verdict, ...]


def start(shop: Shop, who: Who, by: Sitting, *, lesson: str, seed: int | None) -> int:
    """Make the head of a lesson, with what the shop before read at its services; gives its number."""
    if seed is None or not 0 <= seed <= LARGEST_SEED:
        raise FieldError("seed", f"A seed is a whole number of up to {len(str(LARGEST_SEED))} digits.")
    title = LESSONS[lesson].title
    build = head_for(lesson, template(TEACHES_ON)).model_copy(update={"name": f"Lesson: {title.lower()}, seed {seed}"})
    with shop.database.session(writes=True) as session:
        build_id = shop.workshop.add(session, build, who, Reason(Kind.TEMPLATE, after=title))
        shop.bench.add_within(session, build_id, [Taught(0, lesson, seed, by)])
        shop.bench.take_within(session, build_id, build, list(_before_you(build, lesson, seed, by)))
    shop.workshop.saved(1)
    return build_id


def _before_you(build: Build, lesson: str, seed: int, by: Sitting) -> Sequence[tuple[str, str, str, str, How]]:
    """What the shop before read and set at the services of a head, where its lesson has any."""
    before = Sitting(hand=BEFORE_YOU, instrument="feeler", at=by.at)
    return [
        (key, place, "", text, How(before, Phase.SERVICE if service else Phase.FINAL, service, sure=True))
        for key, place, text, service in served_before(build, truth(build, lesson, seed))
    ]


def taught_at(head: Opened) -> tuple[Taught, Truth] | None:
    """The lesson of a head and its truth; None where it is no lesson's."""
    taught = head.sheet.taught
    return None if taught is None else (taught, truth(head.sheet.build, taught.lesson, taught.seed))


def name_fault(head: Opened, by: Sitting, *, fault: str, where: str, off: bool) -> None:
    """Name a fault, or take a name back, while the lesson runs."""

    def decided(now: Opened) -> list[FaultNamed]:
        found = taught_at(now)
        if found is None or found[0].ended:
            raise FieldError("fault", "The lesson has ended: what is named now counts for nothing.")
        if fault not in {k.value for k in FaultKind}:
            raise FieldError("fault", "Say what it is: one of the list.")
        wheres = (*SIDES, *(p.label for p in now.sheet.places), *found[1].springs)
        at = next((w for w in wheres if w.casefold() == where.casefold()), None)
        if at is None:
            raise FieldError("where", "Say where: a valve such as 3E-a, a side, or a spring by its serial.")
        return [FaultNamed(0, fault, at, by, off)]

    act(head, decided)


def end(head: Opened, by: Sitting) -> None:
    """End a lesson: from now on its truth is shown."""

    def decided(now: Opened) -> list[Taught]:
        taught = now.sheet.taught
        return [] if taught is None or taught.ended else [replace(taught, ended=True, by=by)]

    act(head, decided)


def planted(head: Opened, by: Sitting, hidden: Truth) -> list[Planted]:
    """Every planted fault with what became of it."""
    true = true_sheet(head.sheet.build, hidden, by)
    really, sheet = built(assess(true.build), true), until_the_end(head.sheet)
    found = []
    for fault in hidden.faults:
        side = "exhaust" if fault.place == "exhaust" or "E-" in fault.place else "intake"
        verdicts = []
        for across in really.sides[side]:
            if across.check not in SPOILS[fault.kind]:
                continue
            v = next((v for p, v in across.at if fault.place in (p.label, p.side)), None)
            if v is not None and v.figure is not None and v.level is not Level.CLEAR:
                verdicts.append(v)
        told = outcome(fault, sheet, hidden)
        found.append(Planted(fault, told, CONSEQUENCE[fault.kind], tuple(verdicts)))
    return found
