"""The program and its shadow agree about what stands, after any acts in any order; and no liar gets a signature."""

import random
from contextlib import suppress
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest

from arcstack.assess import Assessment, assess
from arcstack.assess.built import built
from arcstack.checks import Evidence
from arcstack.demo import demo_builds
from arcstack.document import Build, Entry, Override, Sitting, change, clear, get, set_evidence
from arcstack.document.edit import said
from arcstack.errors import FieldError
from arcstack.formats.readings_json import read_whole, write_whole
from arcstack.readings import ASKED, Cut, Put, Sheet, Stated, Waived
from arcstack.readings.recorded import Released
from arcstack.readings.sheet import first_said
from arcstack.readings.taking import How, read_at, read_of, taken_back
from arcstack.record.owed import Owed, grouped, owed, waived
from arcstack.record.release import sign
from tests.builds import quill, sorrel
from tests.evidence.shadow import DESIGN_SHIMS, FIELDS, Shadow
from tests.readings.bench import Hand

PLACES = ("1I-a", "1I-b")
VALUES = {
    "stack.retainer.code": ("R-1", "R-2", ""), "stack.retainer.offset": ("0.5 mm", "1 mm", ""),
    "stack.locks.code": ("L-1", "L-2", ""), "stack.locator.thickness": ("0.9 mm", "1.5 mm", ""),
    "stack.outer.code": ("O-A", "O-B", ""), "cam.code": ("C-1", "C-2", ""),
    "stack.retainer.step": ("1.6 mm", "1.1 mm", ""), "stack.valve.length": ("98 mm", "98.5 mm", ""),
}  # fmt: skip
READS = {
    "installed_height": ("36.00", "36.02"), "shims": ("0.75", "1.00"), "lobe_lift": ("9.99", "10.01"),
    "tip_height": ("44.20", "44.22"),
}  # fmt: skip


def started() -> Build:
    build = demo_builds()[0]
    for path, (first, *_rest) in VALUES.items():
        build = change(build, f"intake.{path}", first)
    return build


START = started()
WHEN = datetime(2026, 11, 2, 9, 30, tzinfo=UTC)


class Program:
    """The same acts by the program's own rooms, as the workshop does them."""

    def __init__(self, rng: random.Random) -> None:
        self.rng, self.hand, self.undo = rng, Hand(START), list[Build]()

    def by(self, instrument: str = "micrometer 2") -> Sitting:
        # the clock goes where it will: nothing rests on it
        return Sitting(hand="ada", instrument=instrument, at=WHEN + timedelta(minutes=self.rng.randint(-9000, 9000)))

    def accept(self, made: Build) -> None:
        before = self.hand.build
        if made == before:
            return
        self.undo.append(before)
        self._said(before, made)

    def _said(self, before: Build, after: Build) -> None:
        self.hand.build = after
        if self.hand.readings:
            for path, value in first_said(before, after):
                self.hand.happened(Stated(0, path, value, self.by()))

    def state(self, path: str, value: str) -> None:
        full, build = f"intake.{path}", self.hand.build
        if value != said(get(build, full)):
            is_figure = not path.endswith(".code")
            self.accept(clear(build, full) if not value and is_figure else change(build, full, value, Evidence.PRINTED))

    def take_height(self) -> None:
        by = self.by("height micrometer 2")
        self.accept(set_evidence(self.hand.build, "intake.stack.open_height", Evidence.MEASURED, by))

    def back(self) -> None:
        if self.undo:
            before = self.hand.build
            self._said(before, self.undo.pop())

    def read(self, key: str, place: str, text: str) -> None:
        made = read_at(self.sheet, key, place, text, How(self.by(), sure=True))
        self.hand.readings.append(made.__class__(**{**vars(made), "number": self.hand.next}))

    def read_spring(self, item: str, text: str) -> None:
        made = read_of(self.sheet, "outer.solid", item, text, How(self.by("tester 1"), sure=True))
        self.hand.readings.append(made.__class__(**{**vars(made), "number": self.hand.next}))

    def take_back(self, key: str, place: str) -> None:
        own = self.sheet.at(place, key)
        if own:
            made = taken_back(own[-1], self.by())
            self.hand.readings.append(made.__class__(**{**vars(made), "number": self.hand.next}))

    def put(self, item: str, place: str) -> None:
        there = self.sheet.item_at(place, "outer")
        if there and there != item:
            self.hand.happened(Put(0, there, "outer", "", self.by()))
        self.hand.happened(Put(0, item, "outer", place, self.by()))

    def carried(self) -> None:
        """Out into a file and in again."""
        build, readings, events = read_whole(write_whole(self.hand.build, self.hand.readings, self.hand.events))
        assert build == self.hand.build
        self.hand.build, self.hand.readings, self.hand.events = build, readings, events

    @property
    def sheet(self) -> Sheet:
        return self.hand.sheet()


def play(rng: random.Random, program: Program, shadow: Shadow) -> str:
    """One act by both; what it was, for whoever has to find a difference."""
    act = rng.choice(
        ("state", "state", "state", "read", "read", "read", "spring", "back", "off", "cut", "put", "file", "height")
    )
    place = rng.choice(PLACES)
    if act == "state":
        path = rng.choice(FIELDS)
        value = rng.choice(VALUES[path])
        program.state(path, value)
        shadow.state(path, value)
        return f"{path} = {value or 'empty'}"
    if act == "read":
        key = rng.choice(tuple(READS))
        text = rng.choice(READS[key])
        program.read(key, place, text)
        shadow.read(key, place, float(text))
        return f"{key} {text} at {place}"
    if act == "spring":
        item = rng.choice(("S-1", "S-2"))
        # read of a spring that stands nowhere rests on no side's code: it is put somewhere first
        if shadow.at.get(item):
            program.read_spring(item, "22.5")
            shadow.read("outer.solid", "", 22.5, item)
        return f"solid of {item}"
    if act == "back":
        program.back()
        shadow.back()
    elif act == "off":
        key = rng.choice(tuple(READS))
        program.take_back(key, place)
        shadow.take_back(key, place)
        return f"{key} at {place} taken back"
    elif act == "cut":
        program.hand.happened(Cut(0, place, 0.0, 0.05, 0.0, program.by()))
        shadow.cut(place)
    elif act == "put":
        item = rng.choice(("S-1", "S-2"))
        program.put(item, place)
        shadow.put(item, place)
        return f"{item} put at {place}"
    elif act == "file":
        program.carried()
    else:
        program.take_height()
        shadow.take_height()
    return act


def statuses(program: Program, design: Assessment | None) -> dict[str, object]:
    sheet, found = program.sheet, {}
    for place in (p for p in sheet.places if p.label in PLACES):
        for key in READS:
            s = sheet.settled(place, key)
            found[f"{key} {place.label}"] = "unread" if s is None else "stale" if s.stale else "stands"
    if design is not None:
        made = built(design, sheet)
        for place in (p for p in sheet.places if p.label in PLACES):
            for check, name in (("stack.installed_height", "height"), ("spring.reserve.outer", "reserve")):
                v = made.at(check, place)
                assert v is not None
                assert v.figure is not None
                found[f"{name} {place.label}"] = _measured(v.figure)
    held = get(program.hand.build, "intake.stack.open_height")
    assert isinstance(held, Entry)
    found["design height"] = held.stands is Evidence.MEASURED
    return found


def _measured(figure: object) -> bool:
    from arcstack.evidence import coverage

    return coverage(figure).whole  # type: ignore[arg-type]


def shadowed(shadow: Shadow, checks: bool) -> dict[str, object]:
    found: dict[str, object] = {f"{k} {p}": shadow.status(k, p) for p in PLACES for k in READS}
    if checks:
        for p in PLACES:
            found[f"height {p}"] = shadow.height_measured(p)
            found[f"reserve {p}"] = shadow.reserve_measured(p)
    found["design height"] = shadow.design_height_stands()
    return found


@pytest.mark.parametrize("seed", range(20))
def test_what_stands_is_what_the_shadow_says(seed: int, request: pytest.FixtureRequest) -> None:
    """Short lives, so many to a seed; what stands is asked after every act, and what is measured at the end of some.

    ``--lives 2000`` plays forty thousand of them.
    """
    for life in range(int(request.config.getoption("--lives"))):
        rng = random.Random(100_000 * seed + life)
        program, shadow = Program(rng), Shadow({p: VALUES[p][0] for p in FIELDS})
        assert DESIGN_SHIMS == 0.75
        told = []
        for _ in range(rng.randint(3, 12)):
            told.append(play(rng, program, shadow))
            assert statuses(program, None) == shadowed(shadow, False), "; ".join(told)
        if life % 6 == 0:
            assert statuses(program, assess(program.hand.build)) == shadowed(shadow, True), "; ".join(told)


# -- the liar


class Liar:
    """Tries for a signature by every short way on a head of one cylinder."""

    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)
        self.hand = Hand(self.rng.choice((quill(), sorrel())))
        self.by = Sitting(hand="wen", instrument="height micrometer 2", at=WHEN)

    def everything(self) -> tuple[Owed, ...]:
        sheet = self.hand.sheet()
        design = assess(sheet.build)
        return owed(design, sheet, built(design, sheet), WHEN.date())

    def lie(self) -> None:
        way = self.rng.choice(("read", "read", "loosen", "past", "wave", "claim", "solid", "old", "code"))
        build = self.hand.build
        place = self.rng.choice(self.hand.places)
        if way == "read":
            key, value = self.rng.choice((("open_height", 36.4), ("lobe_lift", 9.4), ("retainer_step", 1.6)))
            for each in self.hand.places:
                if ASKED[key].applies(build, each.side):
                    self.hand.take(key, each.label, value)
        elif way == "loosen":
            low = Entry(value=-5.0, typed="-5 mm", evidence=Evidence.ASSUMED)
            held = Override(low=low, reason="ran like that before", by=self.by)
            key = self.rng.choice(("spring.reserve.inner", "spring.reserve.outer", "stack.retainer_seal"))
            self.hand.build = build.model_copy(update={"overrides": {**build.overrides, key: held}})
        elif way == "past":
            made = Waived(0, "spring.reserve.outer", place.side, place.label, "it holds", "1999-12-31", "", self.by)
            self.hand.happened(replace(made, state="unread", figure=9.0, low=1.0))
        elif way == "wave":
            for o in self.everything():
                if self.rng.random() < 0.5:
                    self.hand.happened(waived(o, Waived(0, "", "", "", "known", "1,000 km", "", self.by)))
        elif way == "claim":
            claim = Sitting(hand="wen", instrument="by eye", at=WHEN)
            self.hand.build = set_evidence(build, f"{place.side}.stack.outer.solid", Evidence.MEASURED, claim)
        elif way == "solid":
            text = self.rng.choice(("22.4 mm", "30 mm"))
            with suppress(FieldError):
                self.hand.build = change(build, f"{place.side}.stack.outer.solid", text, Evidence.MEASURED, by=self.by)
        elif way == "old":
            made = Waived(0, "piston.clearance_swept", place.side, "", "never did", "next season", "", self.by)
            self.hand.happened(replace(made, stood="fail at all 8"))
        else:
            self.hand.build = change(build, f"{place.side}.stack.outer.code", self.rng.choice("ABC"))

    def signed(self) -> tuple[Released | None, tuple[Owed, ...]]:
        found = self.everything()
        try:
            return sign(found, 1, "{}", (1, 1), "Ilse", "1,000 km", self.by), found
        except FieldError:
            return None, found


@pytest.mark.parametrize("seed", range(12))
def test_no_liar_gets_a_signature_without_a_name_on_the_list(seed: int) -> None:
    liar = Liar(seed)
    for _ in range(liar.rng.randint(3, 7)):
        liar.lie()
    made, found = liar.signed()
    for o in found:
        assert o.standing or (o.passed is not None and o.passed.by.hand == "wen" and o.passed.until != "1999-12-31")
    if made is None:
        # let all of it pass: what no name may is still there
        for o in found:
            if o.standing:
                liar.hand.happened(waived(o, Waived(0, "", "", "", "known", "1,000 km", "", liar.by)))
        made, found = liar.signed()
    never = [o for o in found if o.never]
    assert (made is None) is bool(never)
    if made is not None:
        assert len(made.waived) == len(grouped(found, {}))
        assert all("wen, until" in w for w in made.waived)
    # by its own arithmetic: a spring that is solid before full lift is never signed
    sheet = liar.hand.sheet()
    design = assess(sheet.build)
    for side in ("intake", "exhaust"):
        for s in built(design, sheet).across("spring.reserve.outer", side).stands:
            if s.verdict.figure is not None and s.verdict.figure.value < -0.01:
                assert made is None
    # and without a tester it is on the list, whatever the design says of itself
    for place in liar.hand.places:
        item = sheet.item_at(place.label, "outer")
        if not item or sheet.of_item(item, "outer.solid") is None:
            own = [o for o in found if o.key == "spring.reserve.outer" and o.side == place.side]
            design_read = get(sheet.build, f"{place.side}.stack.outer.solid")
            alone = len([p for p in liar.hand.places if p.side == place.side]) == 1
            assert own or (alone and isinstance(design_read, Entry) and design_read.stands is Evidence.MEASURED)
