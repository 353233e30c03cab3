"""The mock-up of a head: how the engine stood, where true TDC is, both flanks of a cam, what was pushed and decided."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from arcstack.document import Sitting
from arcstack.mech.degreeing import Flanks, flanks_read, pointer_error_rad
from arcstack.readings.event import Event, of_kind

ADJUSTERS = ("none", "solid", "soft")
"""Hydraulic adjusters as they stand for a mock-up."""

NO_ADJUSTERS, SOFT = ADJUSTERS[0], ADJUSTERS[2]
EDGES = ("clean", "sharp", "overhanging")
"""A pocket's edge beside the bore wall: a sharp one glows, an overhanging one shrouds the flow."""


@dataclass(frozen=True)
class Stood(Event, kind="stood"):
    """How the engine stands for the readings of a mock-up that follow: lash set, mm at the valve; gasket as it lies and
    as it will be crushed, mm; where the phaser is held, crank rad earlier than parked, and by what."""

    number: int
    side: str
    lash_mm: float
    gasket_used_mm: float
    gasket_crushed_mm: float
    phaser_rad: float
    held_by: str
    by_hand_only: bool
    plugs_out: bool
    light_springs: bool
    by: Sitting
    adjusters: str = NO_ADJUSTERS

    @property
    def wanting(self) -> tuple[str, ...]:
        """What must be so before the engine is turned."""
        asked = (
            (self.by_hand_only, "starter disconnected, turned by hand only"),
            (self.plugs_out, "plugs out"),
            (self.light_springs, "checking springs in, counted"),
            (self.adjusters != SOFT, "hydraulic adjusters made solid: a soft one fakes lift and clearance"),
        )
        return tuple(words for so, words in asked if not so)


@dataclass(frozen=True)
class StopMet(Event, kind="stop_met"):
    """The piston against a positive stop both ways: before and after TDC as the wheel shows, crank rad."""

    number: int
    before_rad: float
    after_rad: float
    by: Sitting

    @property
    def error_rad(self) -> float:
        return pointer_error_rad(self.before_rad, self.after_rad)


@dataclass(frozen=True)
class StopOut(Event, kind="stop_out"):
    """The stop taken out again by a hand: left in, it bends rods."""

    number: int
    by: Sitting


@dataclass(frozen=True)
class Pass(Event, kind="pass"):
    """One turn forward over a lobe, as the wheel and a dial on the valve showed it: the flank by TDC and the one by BDC
    at a check lift, crank rad; the highest lift and what the dial came back to, mm."""

    number: int
    side: str
    place: str
    check_lift_mm: float
    by_tdc_rad: float
    by_bdc_rad: float
    highest_mm: float | None
    returned_mm: float
    by: Sitting

    def flanks(self, error_rad: float) -> Flanks:
        return flanks_read(self.by_tdc_rad, self.by_bdc_rad, error_rad, exhaust=self.side == "exhaust")


@dataclass(frozen=True)
class Pushed(Event, kind="pushed"):
    """The valve pushed to the piston at a crank angle as the wheel shows it: travel, and lift where it was read, mm."""

    number: int
    side: str
    place: str
    crank_rad: float
    travel_mm: float
    lift_mm: float | None
    by: Sitting


@dataclass(frozen=True)
class Clay(Event, kind="clay"):
    """The thinnest of an imprint over a valve, mm, and how it was cut; the least room around the valve in its pocket,
    and how the pocket's edge is, where they were looked at."""

    number: int
    side: str
    place: str
    imprint_mm: float
    along_cylinder: bool
    by: Sitting
    radial_mm: float | None = None
    edge: str = ""


@dataclass(frozen=True)
class Slack(Event, kind="slack"):
    """One event come to forward and then backward, crank rad as the wheel shows it: their difference is backlash."""

    number: int
    side: str
    forward_rad: float
    back_rad: float
    by: Sitting

    @property
    def backlash_rad(self) -> float:
        return abs(self.forward_rad - self.back_rad)


@dataclass(frozen=True)
class Lifted(Event, kind="lifted"):
    """One point of a lift curve taken by dial at the valve: crank as the wheel shows it, rad after gas-exchange TDC,
    and lift, mm; ``anew`` begins another run."""

    number: int
    side: str
    place: str
    crank_rad: float
    lift_mm: float
    anew: bool
    by: Sitting


@dataclass(frozen=True)
class Moved(Event, kind="moved"):
    """A cam moved in its gear: every pass before it tells nothing any more."""

    number: int
    side: str
    cam_rad: float
    by: Sitting


@dataclass(frozen=True)
class Kept(Event, kind="kept"):
    """A measured timing kept by a hand, for a reason: from now on it is the build's."""

    number: int
    side: str
    advance_rad: float
    reason: str
    by: Sitting


@dataclass(frozen=True)
class Between(Event, kind="between"):
    """The least gap between an intake and an exhaust head through overlap, mm, with both phasers (crank rad earlier
    than parked) and both lashes (mm) as they stood."""

    number: int
    place: str
    other: str
    gap_mm: float
    intake_phaser_rad: float
    exhaust_phaser_rad: float
    intake_lash_mm: float
    exhaust_lash_mm: float
    by: Sitting


@dataclass(frozen=True)
class Bearing(Event, kind="bearing"):
    """A camshaft in the head at one of its bearings, counted from the drive: runout by dial, mm, and whether the shaft
    spins by hand."""

    number: int
    side: str
    bearing: int
    runout_mm: float
    spins: bool
    by: Sitting


@dataclass(frozen=True)
class LobeRoom(Event, kind="lobe_room"):
    """The least room between one lobe and the head through a full turn, mm."""

    number: int
    side: str
    place: str
    room_mm: float
    by: Sitting


@dataclass(frozen=True)
class Closed(Event, kind="closed"):
    """The mock-up of a side taken down: checking springs that went in and came out, phaser free again, the gear's bolts
    torqued to the maker's figure, by which source, and marked."""

    number: int
    side: str
    springs_out: int
    springs_in: int
    phaser_free: bool
    bolts_marked: bool
    bolts_source: str
    by: Sitting

    @property
    def wanting(self) -> tuple[str, ...]:
        """What still stands against it."""
        short = self.springs_in - self.springs_out
        asked = (
            (short == 0, f"{abs(short)} checking springs {'short' if short > 0 else 'too many'}"),
            (self.phaser_free, "phaser unlocked"),
            (self.bolts_marked, "gear bolts torqued and marked"),
        )
        return tuple(words for so, words in asked if not so)


@dataclass(frozen=True)
class Withdrawn(Event, kind="withdrawn", names="event"):
    """A pass, a push or an imprint taken back by the number of its event: mistyped, or the dial dropped."""

    number: int
    side: str
    event: int
    by: Sitting


@dataclass(frozen=True)
class MockUp:
    """Everything of a mock-up that stands for one side."""

    stood: Stood | None
    stops: tuple[StopMet, ...]
    stop_in: bool
    passes: tuple[Pass, ...]
    pushes: tuple[Pushed, ...]
    clays: tuple[Clay, ...]
    kept: Kept | None
    betweens: tuple[Between, ...] = ()
    bearings: tuple[Bearing, ...] = ()
    rooms: tuple[LobeRoom, ...] = ()
    closed: Closed | None = None
    lifted: tuple[Lifted, ...] = ()
    """The run of a lift curve as far as it was taken."""
    slack: Slack | None = None
    """Backlash as it was found, which is shown and never used: every event is come to forward."""
    moved: bool = False
    """Whether a cam was moved since anything was read of it."""
    stood_for: Mapping[int, Stood] = field(default_factory=dict)
    """How the engine stood for each reading, by the reading's number."""
    error_for: Mapping[int, float] = field(default_factory=dict)
    """The pointer's error when each was read, crank rad."""
    withdrawn: tuple[Pass | Pushed | Clay, ...] = ()
    """What was taken back, in the order it was read."""

    @property
    def begun(self) -> bool:
        return self.stood is not None

    @property
    def error_rad(self) -> float | None:
        """The pointer's error by the last stop that was met; None before the first."""
        return self.stops[-1].error_rad if self.stops else None

    @property
    def stop_apart_rad(self) -> float | None:
        """How far the two readings of the last stop lie apart: the pointer is moved and the stop met again until they
        agree."""
        return abs(self.stops[-1].after_rad - self.stops[-1].before_rad) if self.stops else None


def mock_up(events: Sequence[Event], side: str) -> MockUp:
    """What of a head's events stands for a side: a cam that was moved voids its passes and what was pushed, a stop that
    was met anew is in again."""
    stood: Stood | None = None
    stops: list[StopMet] = []
    stop_in, kept = False, None
    passes: list[Pass] = []
    pushes: list[Pushed] = []
    clays: list[Clay] = []
    betweens: list[Between] = []
    bearings: dict[int, Bearing] = {}
    rooms: dict[str, LobeRoom] = {}
    closed: Closed | None = None
    lifted: list[Lifted] = []
    slack: Slack | None = None
    moved = False
    stood_for: dict[int, Stood] = {}
    error_for: dict[int, float] = {}
    taken_back = {e.event: e.number for e in of_kind(events, Withdrawn) if e.side == side}
    withdrawn: list[Pass | Pushed | Clay] = []
    counted_then: list[Pass] = []
    for e in events:
        if isinstance(e, Pass | Pushed | Clay) and e.side == side and e.number in taken_back:
            withdrawn.append(e)
            counted_then += [e] if isinstance(e, Pass) else []
            continue
        if isinstance(e, Pass | Pushed | Clay | Lifted) and e.side == side:
            if stood is not None:
                stood_for[e.number] = stood
            if stops:
                error_for[e.number] = stops[-1].error_rad
            closed = None
        match e:
            case Stood() if e.side == side:
                stood = e
            case StopMet():
                stops.append(e)
                stop_in = True
            case StopOut():
                stop_in = False
            case Moved() if e.side == side:
                passes, pushes, clays, betweens, kept, moved = [], [], [], [], None, True
                lifted, counted_then = [], []
            case Moved():
                betweens = []
            case Pass() if e.side == side:
                passes.append(e)
                moved = False
            case Pushed() if e.side == side:
                pushes = [p for p in pushes if (p.place, p.crank_rad) != (e.place, e.crank_rad)]
                pushes.append(e)
            case Clay() if e.side == side:
                clays.append(e)
            case Slack() if e.side == side:
                slack = e
            case Lifted() if e.side == side:
                lifted = [e] if e.anew else [*lifted, e]
            case Kept() if e.side == side and all(taken_back[p.number] < e.number for p in counted_then):
                # one kept while a pass counted that was taken back only later has that pass in its figure
                kept = e
            case Between():
                betweens.append(e)
            case Bearing() if e.side == side:
                bearings[e.bearing] = e
            case LobeRoom() if e.side == side:
                rooms[e.place] = e
            case Closed() if e.side == side:
                closed = e
    return MockUp(
        stood, tuple(stops), stop_in, tuple(passes), tuple(pushes), tuple(clays), kept, tuple(betweens),
        tuple(bearings[n] for n in sorted(bearings)), tuple(rooms[p] for p in sorted(rooms)), closed, tuple(lifted),
        slack, moved, stood_for, error_for, tuple(withdrawn),
    )  # fmt: skip
