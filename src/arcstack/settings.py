"""Figures that are neither a practice's limits nor physics: each with its name, default, unit and what it is for."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType


@dataclass(frozen=True)
class Setting:
    """``help`` says what it does, and why it stands where it does."""

    name: str
    default: float
    unit: str
    help: str


_TABLE = (
    Setting(
        "gas.opens_over",
        2.0,
        "mm",
        "Lift over which the pressures on an opening exhaust valve are taken to even out.",
    ),
    Setting(
        "gas.seated_lift",
        0.15,
        "mm",
        "Net lift below which a valve counts as shut in the assumed pressures over the cycle.",
    ),
    Setting(
        "train.coil_damping",
        0.01,
        "of critical",
        "Damping in a bare spring, where it is not known: hysteresis, oil and the seats.",
    ),
    Setting(
        "surge.avoid_share",
        0.10,
        "of the open load",
        "Load that surge may take before a speed is one to avoid holding.",
    ),
    Setting(
        "engine.cranking_speed",
        250.0,
        "rpm",
        "Cranking speed, where it is not given.",
    ),
    Setting(
        "train.damping",
        0.06,
        "of critical",
        "Damping of the train, where it is not known.",
    ),
    Setting(
        "train.seat_stiffness",
        90_000.0,
        "N/mm",
        "Stiffness of a valve on its seat, where it is not known.",
    ),
    Setting(
        "train.seat_damping",
        0.15,
        "of critical",
        "Damping of a valve on its seat, where it is not known.",
    ),
    Setting(
        "train.least_rub",
        0.02,
        "of the seat load",
        "Rub that a pack without a damper may have all the same; tried as an end of the band.",
    ),
    Setting(
        "train.step",
        25.0,
        "rpm",
        "Grid of speeds of a build's own train: islands of parting are a few tens of rpm wide.",
    ),
    Setting(
        "train.band_step",
        50.0,
        "rpm",
        "Grid of the trains that tell the band only.",
    ),
    Setting(
        "train.band_from",
        0.5,
        "of the limiter",
        "Speed from which those trains are turned.",
    ),
    Setting(
        "train.swept",
        60,
        "speeds",
        "Speeds of a sweep where only a picture of it is asked for.",
    ),
    Setting(
        "follower.spits_shims",
        7500.0,
        "rpm",
        "Limiter above which a shim over the bucket gets its caution; builders put it between 7,000 and 8,000.",
    ),
    Setting(
        "follower.least_ramp_lash",
        0.02,
        "mm",
        "Lift at which a ramp is judged where the lash is less: there is no speed at no lift.",
    ),
    Setting(
        "spring.end_coils",
        2.0,
        "coils",
        "Coils that lie flat at the two ends of a ground spring and do not work.",
    ),
    Setting(
        "timing.overlap_lift",
        1.0,
        "mm",
        "Net lift at which overlap is taken.",
    ),
    Setting(
        "heights.reach",
        3.0,
        "mm",
        "How far to either side of the present height is looked.",
    ),
    Setting(
        "airflow.longer_exhaust",
        0.72,
        "of intake flow",
        "Exhaust flow at useful lift below which a longer exhaust than intake is advised.",
    ),
    Setting(
        "airflow.shorter_exhaust",
        0.85,
        "of intake flow",
        "Exhaust flow at useful lift above which a shorter exhaust than intake is advised.",
    ),
    Setting(
        "airflow.restrictive",
        1.5,
        "of boost",
        "Back pressure past which overlap and exhaust duration help less than the flow would say.",
    ),
    Setting("bench.standard_ambient", 1.0, "bar", "Ambient pressure for which a seat's least vacuum is told."),
    Setting(
        "bench.least_mass_spread", 0.001, "kg", "A spread of masses that is let pass whatever share of them it is."
    ),
    Setting(
        "bench.wild", 0.5, "mm", "A length further than this from its neighbours is asked about before it is taken."
    ),
    Setting(
        "bench.wild_spreads",
        5.0,
        "spreads",
        "So many standard deviations from its neighbours a reading is asked about.",
    ),
    Setting(
        "bench.exchange_near",
        0.4,
        "share",
        "A difference that comes back this near, after two valves changed places, is explained.",
    ),
    Setting("bench.least_neighbours", 5, "readings", "Fewer neighbours tell no spread."),
    Setting(
        "bench.solid_slope", 5.0, "rates", "A spring is solid where its load climbs so many times as steep as its rate."
    ),
    Setting(
        "bench.press_step", 0.1, "mm", "How far a spring is pressed further at each step when solid is approached."
    ),
    Setting("bench.press_from", 0.4, "mm", "How far above the printed solid height the approach to solid begins."),
    Setting(
        "bench.most_correction", 25.0, "resolutions", "An instrument off by more is set or mended, never corrected."
    ),
    Setting("gc.youngest", 10_000, "objects", "So many new ones before the youngest are looked through for garbage."),
    Setting("gc.older", 20, "times", "So often before those that outlived it are looked through too."),
    Setting("gc.all", 20, "times", "So often before all are, which holds a page up longest."),
    Setting("bench.kept", 16, "builds", "Builds whose readings and figures as built are kept at hand."),
    Setting("bench.most_cut", 3.0, "mm", "No more than this is taken off a face, a seat or a tip at once."),
    Setting("link.kept", 200, "lines", "The last lines of an instrument that are kept."),
    Setting("link.joined", 0.3, "s", "A line that comes so soon after opening may have lost its beginning."),
    Setting("link.at_most", 50, "lines a second", "More than this is no hand at a gauge: none of it is taken."),
    Setting("bench.most_shims", 3, "shims", "No more than this are laid under one spring when shims are solved."),
    Setting("bench.hard_tip", 0.5, "mm", "About so deep is the hard skin of a valve's tip."),
    Setting("half_width.printed_solid", 0.3, "mm", "How far a printed solid height may be off."),
    Setting("half_width.printed_length", 0.05, "mm", "How far any other printed length may be off."),
    Setting("half_width.printed_load", 0.05, "share", "How far a printed load or rate may be off."),
    Setting("half_width.printed_mass", 0.01, "share", "How far a printed mass may be off."),
    Setting("half_width.assumed_times", 2.0, "times", "An assumed figure may be off by so many times a printed one."),
    Setting("half_width.measured_length", 0.02, "mm", "How far a length measured on the bench is usually off."),
    Setting("half_width.measured_load", 2.0, "N", "How far a load measured on the tester is usually off."),
    Setting("half_width.measured_mass", 0.0001, "kg", "How far a weighed part is usually off."),
    Setting("next.tightest", 14, "checks", "So many of the tightest checks are looked at for the next reading."),
    Setting("readings.largest_file", 1_000_000, "bytes", "A table of readings is no longer than this."),
    Setting("readings.most_rows", 5_000, "rows", "A table of readings has no more rows than this."),
    Setting("pictures.largest", 25_000_000, "bytes", "A photograph has less."),
    Setting("pictures.most_pixels", 80_000_000, "pixels", "And no more of these."),
    Setting("pictures.most_kept", 20_000_000_000, "bytes", "What all photographs of a workshop may take."),
    Setting("pictures.most_of_head", 600, "pictures", "Photographs of one head."),
    Setting("pictures.thumb", 480, "pixels", "The longer side of a small copy."),
    Setting("pictures.most_rings", 20, "rings", "Rings drawn on one photograph."),
    Setting("wear.most_km", 5e6, "km", "Further no head has gone."),
    Setting("wear.most_hours", 5e5, "h", "And longer none has run."),
    Setting("wear.longest_complaint", 400, "characters", "What a customer says of it."),
    Setting("wear.journal_least", 0.03, "mm", "Oil clearance of a cam journal as new, at least."),
    Setting("wear.journal_most", 0.08, "mm", "And at most."),
    Setting("wear.journal_retire", 0.10, "mm", "A journal that has this is retired."),
    Setting("wear.bucket_least", 0.02, "mm", "Clearance of a bucket in its bore as new, at least."),
    Setting("wear.bucket_most", 0.06, "mm", "And at most."),
    Setting("wear.bucket_retire", 0.08, "mm", "A bucket that has this is retired."),
    Setting("wear.most_runout", 0.03, "mm", "Runout of a face on V-blocks up to which a valve is refaced."),
    Setting("wear.most_cost", 1e6, "of the shop's money", "A cost of one part is less."),
    Setting("wear.springs_lost", 0.05, "of its load", "Springs that lost more than this have lost load."),
    Setting("wear.trays_tries", 4_000, "heads", "Tried for the trays of one seed."),
    Setting("wear.conflict", 2.0, "points", "Causes of different chains that lie no further apart are in conflict."),
    Setting("wear.strong", 2.0, "points", "What speaks against a leading cause by so much is a conflict."),
    Setting("wear.absent_from", 2.0, "points", "A sign that would have spoken so strongly is missed where absent."),
    Setting("wear.absent", 1.0, "points", "And its absence takes so much from each such cause."),
    Setting("second.places", 3, "places", "Places at which another hand reads tip and open height again."),
    Setting("second.wild", 3.0, "mm", "A second reading further off than this is a mistyped digit."),
    Setting("assembly.most_standing", 3_650, "days", "Longer no head is planned to stand."),
    Setting("assembly.not_home", 0.5, "mm", "How far off its stop a seal is shown that was not pressed home."),
    Setting("assembly.longest_text", 200, "characters", "What one field of a step may hold."),
    Setting("assembly.most_count", 500, "pieces", "More of one part no head has."),
    Setting("assembly.oil_days", 7, "days", "A head that stands for less is oiled."),
    Setting("assembly.lube_days", 60, "days", "And up to this it takes a quick-washing assembly lube; beyond, grease."),
    Setting("assembly.grease_days", 14, "days", "Past this its seats are greased thinly."),
    Setting("lash.cold", 20.0, "°C", "An engine is cold at this, for its lash to be read."),
    Setting("lash.cold_within", 5.0, "°C", "And this much to either side."),
    Setting("lash.opens", 0.05, "mm", "Lash that opened by so much in one service: look at lobe, bucket and tip."),
    Setting("turbo.nut_factor_dry", 0.20, "share", "Nut factor of dry threads."),
    Setting("turbo.nut_factor_oil", 0.17, "share", "Nut factor of oiled threads."),
    Setting("turbo.nut_factor_moly", 0.13, "share", "Nut factor of threads with moly paste."),
    Setting("turbo.peak", 115.0, "bar", "Peak cylinder pressure of boosted petrol, absolute, until it was indicated."),
    Setting("turbo.peak_least", 90.0, "bar", "The least that it usually is."),
    Setting("turbo.peak_most", 140.0, "bar", "The most that it usually is."),
    Setting(
        "turbo.burette", 1.0, "cm³", "So good is a volume by burette, and each that was not measured as much worse."
    ),
    Setting("turbo.weight_soft", 1.0, "times", "What a second on a soft cut weighs."),
    Setting("turbo.weight_staged", 2.0, "times", "What a second on a staged cut weighs."),
    Setting("turbo.weight_hard", 3.0, "times", "What a second on a hard cut weighs."),
    Setting("turbo.weight_launch", 2.0, "times", "What a second of launch control weighs."),
    Setting("turbo.weight_missed", 30.0, "s", "What a missed shift weighs: ten seconds of hard cut."),
    Setting("turbo.stud_modulus", 205_000.0, "MPa", "Modulus of a steel stud."),
    Setting("turbo.road_km", 15_000.0, "km", "Road: valvetrain looked at after so far."),
    Setting("turbo.track_hours", 10.0, "h", "Track: after so long."),
    Setting("turbo.stud_share", 2.0, "cylinders", "Cylinders that a stud stands between, until it is said."),
    Setting("phaser.most", 80.0, "degrees", "A phaser's range is looked through as far as this from parked."),
    Setting("rod.modulus_steel", 205_000.0, "MPa", "Modulus of steel rods."),
    Setting("rod.modulus_titanium", 114_000.0, "MPa", "Modulus of titanium rods."),
    Setting("rod.modulus_aluminium", 72_000.0, "MPa", "Modulus of aluminium rods."),
    Setting("clearing.most_turn", 20.0, "degrees", "No cam is turned further in its gear to clear a piston (crank)."),
    Setting("clearing.most_cams", 40, "cams", "So many kept cams are tried where a piston is too close."),
    Setting("clearing.phaser_step", 0.5, "degrees", "A phaser is limited to whole steps of this."),
    Setting("mock_up.lift_right", 0.05, "mm", "A highest lift this near the card's is right."),
    Setting("mock_up.push_good", 0.05, "mm", "So good is a push of the valve to the piston by dial."),
    Setting("mock_up.geometry", 0.15, "mm", "Lift and travel together this near the model: its geometry is good."),
    Setting("mock_up.tooth", 2.0, "degrees", "An advance this near to whole teeth of the gear is called that."),
    Setting("mock_up.tells", 0.5, "degrees", "Timing that pushes leave open by more is not told from a tight chamber."),
    Setting("mock_up.back", 0.02, "mm", "A dial that comes back to more than this voids its pass."),
    Setting("learning.fitting", 0.005, "mm", "Spread of retainers, locators, seals, lobes and lash in a lesson."),
    Setting("learning.height", 0.08, "mm", "How far heights of a head that does not exist lie from its design."),
    Setting("learning.load", 0.02, "share", "How far loads of its springs lie from what is printed."),
    Setting("learning.solid", 0.15, "mm", "How far their solid heights do."),
    Setting(
        "learning.early",
        3.2,
        "mm",
        "So much taller a planted spring is at solid: too tall under any cam of the lesson.",
    ),
    Setting("learning.parallax", 1.0, "degrees", "What a pointer reads otherwise, looked at from the side."),
    Setting("learning.mass", 0.0004, "kg", "How far masses of its parts do."),
    Setting("bench.vacuum_interval", 10.0, "s", "How long after the first a seat's second vacuum is read."),
    Setting(
        "specify.samples_at_once",
        200_000,
        "samples",
        "Samples of lobes held at once where loads curve: a few megabytes, which a processor keeps close by.",
    ),
    Setting(
        "specify.block",
        131_072,
        "combinations",
        "Combinations worked at once: few enough that one can look on and stop.",
    ),
    Setting(
        "specify.kept",
        2_000,
        "sides",
        "Sides with other parts that are kept beside a head, so that its next search works only what has changed.",
    ),
    Setting(
        "specify.cells",
        1_048_576,
        "combinations",
        "Combinations of one pack whose heights are worked together: what rows share takes no more memory than that.",
    ),
    Setting(
        "specify.rows",
        65_536,
        "rows",
        "Rows of trains laid out at once, so that ten million take no more memory than a hundred thousand.",
    ),
    Setting("specify.most", 30_000_000, "combinations", "More than this is not begun: kinds are to be fixed first."),
    Setting("specify.best", 200, "combinations", "How many of the best are kept."),
    Setting("specify.load_step", 25.0, "N", "Ranges of load are widened to whole steps, to be met again."),
    Setting("specify.mass_step", 0.005, "kg", "Ranges of moving mass are widened to whole steps, to be met again."),
    Setting("whynot.speed", 2500.0, "rpm", "How far a speed is lowered in search of what would do."),
    Setting("whynot.boost", 1.5, "bar", "How far boost is lowered in search of what would do."),
    Setting("whynot.lift", 3.0, "mm", "How far lift is lowered in search of what would do."),
    Setting("whynot.share", 0.4, "share", "How far loads and rates of a pack are moved in search of what would do."),
    Setting("whynot.least_mass", 0.015, "kg", "No valve is imagined lighter than this."),
    Setting("searches.kept", 8, "searches", "Results of searches that are kept, so that looking closer costs nothing."),
    Setting("searches.patience", 20.0, "s", "A search that nobody has looked at for so long is ended."),
    Setting("specify.shown", 20, "rows", "How many of the best stand on the page."),
    Setting("specify.drawn", 900, "points", "How many of those that would do are drawn: more would hide each other."),
    Setting("specify.wait", 0.6, "s", "How long a page waits for a search before it shows how far it is."),
    Setting(
        "reaching.shown",
        24,
        "rows",
        "Combinations that reach a height which are shown.",
    ),
    Setting(
        "reaching.looked_at",
        400,
        "combinations",
        "Combinations within tolerance that are looked at for parts that go together.",
    ),
    Setting(
        "window.fine",
        12,
        "parts",
        "Parts of the way between two rates in which the window is drawn and asked.",
    ),
    Setting(
        "window.near",
        0.05,
        "N",
        "How near an edge of the window is looked for.",
    ),
    Setting(
        "window.rates",
        14,
        "rates",
        "Rates at which the window of seat load is worked; its edges are straight between them.",
    ),
    Setting(
        "window.halvings",
        20,
        "steps",
        "Steps at most in which an edge of the window is closed in on, to a twentieth of a newton.",
    ),
    Setting(
        "room.steps",
        8,
        "steps",
        "Steps, the first the shortest, in which a figure is raised until a check fails.",
    ),
    Setting(
        "room.halvings",
        9,
        "halvings",
        "Halvings of the step in which it fails: a few thousandths of the way.",
    ),
    Setting(
        "heights.points",
        7,
        "heights",
        "Heights that are tried, a millimetre apart: loads are straight between them, a separation speed nearly so.",
    ),
    Setting(
        "workshop.page",
        100,
        "rows",
        "Rows of a page of builds or revisions.",
    ),
    Setting(
        "workshop.kept_text",
        48_000_000,
        "bytes",
        "Text of documents that are kept read, in all.",
    ),
    Setting(
        "assessments.kept_builds",
        16,
        "builds",
        "Builds whose last assessments are kept, the least used going first.",
    ),
    Setting(
        "assessments.of_each",
        3,
        "assessments",
        "Assessments kept of each: what stands, what was tried last, what stood before.",
    ),
    Setting(
        "sweeps.kept_speeds",
        120_000,
        "speeds",
        "Speeds of answers kept, in all (some 250 bytes each); the least used answer goes first.",
    ),
    Setting(
        "sweeps.patience",
        8.0,
        "s",
        "A question that nobody has asked for in so long is dropped: its page is gone, or its build has moved on.",
    ),
    Setting(
        "import.largest_build",
        2_000_000,
        "bytes",
        "A build document may have so many; a real one has some tens of thousands.",
    ),
    Setting(
        "shelf.largest_file",
        2_000_000,
        "bytes",
        "A file of parts may have so many.",
    ),
    Setting(
        "shelf.most_parts",
        5_000,
        "parts",
        "Parts that one file may bring.",
    ),
    Setting(
        "import.largest_table",
        1_000_000,
        "bytes",
        "A lift table may have so many.",
    ),
    Setting(
        "import.most_points",
        5_000,
        "rows",
        "Readings of a lift table, at most.",
    ),
    Setting(
        "import.stray",
        0.03,
        "of the lift",
        "How far a reading may lie off the cubic of its four neighbours.",
    ),
    Setting(
        "import.most_strays",
        5,
        "readings",
        "Stray readings that are named one by one.",
    ),
    Setting(
        "pages.least_compressed",
        2_000,
        "bytes",
        "Text from which a response is made smaller for its way.",
    ),
)

SETTINGS: Mapping[str, Setting] = MappingProxyType({s.name: s for s in _TABLE})


def setting(name: str) -> float:
    """A setting by its name. Raises ``KeyError``.

    >>> setting("timing.overlap_lift")
    1.0
    """
    return SETTINGS[name].default
