"""A head put together by hand in a test: one event after another."""

from collections.abc import Mapping
from datetime import timedelta

from arcstack.assembly.counts import counts_of
from arcstack.assembly.doing import done, reopened
from arcstack.assembly.progress import Standing, standings
from arcstack.assembly.second import table
from arcstack.assembly.steps import tools_of
from arcstack.assess import assess
from arcstack.document import Build, Sitting
from arcstack.readings import Sheet
from arcstack.readings.assembling import Held, ReadAgain, SetUp, Stepped, Tooled, Where
from tests.readings.bench import BY, WHEN, as_designed

WEN = Sitting(hand="wen", instrument="height micrometer 2", at=WHEN + timedelta(hours=2))
LIMITS = ("bucket.clearance", "second.height")
TORQUE = {"": "12 Nm", ".lubricant": "engine oil", ".source": "workshop book, page 40"}


class Builder:
    """Does steps on a head that was measured as designed."""

    def __init__(self, build: Build, where: Where = Where.BENCH, days: float = 3.0) -> None:
        self.bench = as_designed(build)
        self.limits = {key: assess(build).sides["intake"].limit(key) for key in LIMITS}
        for place in self.bench.places:
            self.bench.take("shims", place.label, 0.8, typed="0.50 + 0.30 mm")
            self.bench.take("tip_height", place.label, 44.2)
        self.happened(SetUp(0, where, days, WEN))

    @property
    def sheet(self) -> Sheet:
        return self.bench.sheet()

    def happened(self, event: Stepped | Tooled | SetUp | ReadAgain) -> None:
        self.bench.happened(event)

    def standing(self, build: Build | None = None) -> dict[str, Standing]:
        sheet = self.bench.sheet(build)
        return {s.step.id: s for s in standings(sheet, table(sheet, 0.03))}

    def own_all(self) -> None:
        for key in tools_of(self.sheet):
            self.happened(Tooled(0, key, Held.OWNED, WEN))

    def second(self, off_mm: float = 0.0) -> None:
        for row in table(self.sheet, 0.03):
            assert row.first_mm is not None
            value = row.first_mm + off_mm
            self.happened(ReadAgain(0, row.place.label, row.key, value, f"{value:.3f} mm", WEN))

    def answers(self, step: str) -> dict[str, str]:
        """Everything that a step asks, rightly answered."""
        own = self.standing()[step].step
        found = {}
        for f in own.fields:
            if f.kind == "torque":
                found |= {f"{f.key}{tail}": text for tail, text in TORQUE.items()}
            elif f.kind == "number":
                found[f.key] = "10"
            elif f.kind in ("yes", "text"):
                found[f.key] = "yes"
        for c in counts_of(own, self.sheet, found):
            found[f"count.{c.key}"] = str(c.wanted)
        return found

    def do(self, step: str, **other: str) -> None:
        self.happened(done(self.standing()[step], self.sheet, self.answers(step) | other, WEN, self.limits))

    def do_with(self, step: str, answers: Mapping[str, str]) -> None:
        self.happened(done(self.standing()[step], self.sheet, answers, WEN, self.limits))

    def reopen(self, step: str) -> None:
        self.happened(reopened(self.standing()[step], "", WEN))

    def all_until(self, last: str) -> None:
        self.own_all()
        for step in self.standing():
            if step == "second":
                self.second()
            self.do(step)
            if step == last:
                return


__all__ = ["BY", "Builder"]
