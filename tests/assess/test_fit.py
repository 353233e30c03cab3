"""Rules of fit: what fits, what is forced, what does not, and that what is not known never fits."""

import math

import pytest

from arcstack.application.starts import template
from arcstack.assess import Assessment, assess
from arcstack.assess.fit import RULES, Fits, cautions, met
from arcstack.checks import Level
from arcstack.document import Build, change
from tests.builds import typed

BUCKET, FINGER = template("bucket"), template("finger")


def stands(build: Build, check: str) -> Level:
    return assess(build).verdict(check, "intake").level


def with_(rows: dict[str, str], build: Build = BUCKET) -> Build:
    return typed(build, {f"intake.{path}": text for path, text in rows.items()})


def worth(found: Assessment, check: str) -> float:
    figure = found.verdict(check, "intake").figure
    assert figure is not None
    return figure.value


def outcomes(build: Build, rule: str) -> dict[str, str]:
    return {m.gap.words: m.outcome.value for m in met(assess(build).sides["intake"], rule)}


def test_the_templates_parts_go_together() -> None:
    for key in ("bucket", "finger", "rocker"):
        found = assess(template(key))
        fits = {v.id: v.level for side in ("intake", "exhaust") for v in found.of_side(side) if v.stage == "fit"}
        assert set(fits.values()) == {Level.CLEAR}, fits
        ids = {rule.id for rule in RULES} - {"fit.cap"}
        assert set(fits) == ids


@pytest.mark.parametrize(
    ("check", "path", "levels"),
    [
        ("fit.lock_stem", "stack.locks.stem", {"5.94": "fail", "5.95": "clear", "5.99": "clear", "6.00": "fail"}),
        ("fit.taper", "stack.locks.taper", {"9.7": "fail", "9.75": "clear", "10.25": "clear", "10.3": "fail"}),
        ("fit.spring_retainer", "stack.retainer.outer_step",
         {"20.71": "fail", "20.70": "tight", "20.66": "tight", "20.65": "clear", "20.40": "clear", "20.39": "fail"}),
        ("fit.spring_seat", "stack.locator.spigot",
         {"20.71": "fail", "20.66": "tight", "20.65": "clear", "20.20": "clear", "20.19": "fail"}),
        ("fit.pocket", "stack.pocket.diameter", {"28.1": "fail", "28.69": "fail", "28.89": "tight", "28.9": "clear"}),
        ("fit.seal", "stack.seal.outside", {"14.9": "fail", "14.0": "tight", "13.8": "clear"}),
        ("fit.locator", "stack.locator.bore", {"10.9": "fail", "11.05": "tight", "11.1": "clear", "11.4": "fail"}),
        ("fit.tip_proud", "stack.tip_proud", {"-0.1": "fail", "0.5": "tight", "0.8": "clear"}),
        ("fit.shims", "stack.rings.inside", {"10.9": "fail", "11.05": "tight", "11.2": "clear"}),
    ],
)  # fmt: skip
def test_each_end_of_a_band_turns_where_it_says(check: str, path: str, levels: dict[str, str]) -> None:
    found = {
        text: stands(with_({path: f"{text} {'deg' if 'taper' in path else 'mm'}"}), check).value for text in levels
    }
    assert found == levels


def test_what_is_not_known_never_fits_and_is_asked_for_at_once() -> None:
    bare = assess(Build(name="x")).of_side("intake")
    for v in bare:
        if v.stage == "fit":
            assert v.level is Level.OPEN
            assert v.missing
    without = with_({"stack.locks.stem": "", "stack.valve.lock_end": ""})
    v = assess(without).verdict("fit.lock_stem", "intake")
    assert [m.path for m in v.missing] == ["intake.stack.locks.stem", "intake.stack.valve.lock_end"]
    # the guide stem is no lock end: a stepped stem has two diameters
    assert stands(with_({"stack.valve.lock_end": ""}), "fit.lock_stem") is Level.OPEN
    # one gap that is not known keeps the rule open, one that does not fit fails it all the same
    assert stands(with_({"stack.retainer.inner_step": ""}), "fit.spring_retainer") is Level.OPEN
    both = with_({"stack.retainer.inner_step": "", "stack.retainer.outer_step": "20.9 mm"})
    assert stands(both, "fit.spring_retainer") is Level.FAIL
    assert outcomes(both, "fit.spring_retainer") == {
        "outer spring on the retainer": "does not fit", "inner spring on the retainer": "unknown",
    }  # fmt: skip


def test_grooves_are_compared_by_form_and_by_beads() -> None:
    assert stands(with_({"stack.locks.groove": "one square"}), "fit.groove") is Level.FAIL
    assert stands(with_({"stack.locks.groove": "not stated"}), "fit.groove") is Level.OPEN
    beads = {"stack.valve.groove": "several beads", "stack.locks.groove": "several beads"}
    assert stands(with_(beads), "fit.groove") is Level.OPEN
    assert stands(with_(beads | {"stack.valve.beads": "3", "stack.locks.beads": "3"}), "fit.groove") is Level.CLEAR
    assert stands(with_(beads | {"stack.valve.beads": "3", "stack.locks.beads": "2"}), "fit.groove") is Level.FAIL


def deep(locks_mm: str, taper: str = "10 deg", basis: str = "bare") -> Assessment:
    rows = {
        "stack.retainer.locks_outside": "12.10 mm", "stack.locks.outside": f"{locks_mm} mm",
        "stack.retainer.taper": taper, "stack.locks.taper": taper, "stack.height_basis": basis,
        "stack.retainer.offset": "none", "stack.locks.offset": "none", "stack.locator.thickness": "none",
    }  # fmt: skip
    return assess(with_(rows))


def test_locks_that_sit_deep_move_the_height_and_take_load_away() -> None:
    home, sunk = deep("12.10"), deep("12.00")
    v = sunk.verdict("fit.lock_depth", "intake")
    assert v.figure is not None
    assert v.figure.value == pytest.approx(0.10 / (2 * math.tan(math.radians(5.0))))
    assert (round(v.figure.value, 2), v.level) == (0.57, Level.FAIL)
    height, load = ([worth(a, check) for a in (home, sunk)] for check in ("stack.installed_height", "spring.seat_load"))
    assert height[1] - height[0] == pytest.approx(v.figure.value)
    lost = load[0] - load[1]
    assert f"takes away {lost:.0f} N" in v.note
    assert "0.57 mm deep" in v.note
    # the tip loses what the retainer climbs, and gains nothing from locks that stand high
    tip = {text: worth(deep(text), "fit.tip_proud") for text in ("12.10", "12.00", "12.20")}
    assert tip["12.10"] - tip["12.00"] == pytest.approx(v.figure.value)
    assert tip["12.20"] == pytest.approx(tip["12.10"])
    # a wider taper sinks less; a height read as fitted has it in already
    assert worth(deep("12.00", "20 deg"), "fit.lock_depth") == pytest.approx(0.2836, abs=1e-4)
    fitted = [worth(deep(text, basis="as fitted"), "stack.installed_height") for text in ("12.00", "12.10")]
    assert fitted[0] == fitted[1]


def test_soft_metal_under_springs_and_springs_with_nothing_below_fail() -> None:
    for seat in ("soft steel", "no steel seat"):
        assert stands(with_({"stack.locator.material": seat}), "fit.locator") is Level.FAIL
    iron = with_({"stack.locator.material": "no steel seat", "stack.pocket.metal": "iron"})
    assert stands(iron, "fit.locator") is Level.CLEAR
    loose = assess(with_({"stack.locator.base": "nothing"}))
    v = loose.verdict("fit.locator", "intake")
    assert v.level is Level.FAIL
    assert "one end only" in v.note
    assert not [v for v in loose.of_side("intake") if v.id == "fit.spring_seat"]
    # in a cup the outer spring stands by its outside
    cup = with_({"stack.locator.base": "cup", "stack.locator.spigot": ""})
    assert stands(cup, "fit.spring_seat") is Level.CLEAR
    assert stands(with_({"stack.locator.spigot": ""}), "fit.spring_seat") is Level.OPEN


def test_a_cap_bears_on_the_tip_and_goes_over_it() -> None:
    rows = {"stack.cap.inside": "6.02 mm", "stack.cap.depth": "1.4 mm"}
    levels = {}
    for text in ("1.4", "1.6", "2.0"):
        levels[text] = stands(with_(rows | {"stack.cap.depth": f"{text} mm"}), "fit.cap").value
    # 1.8 mm of tip stands proud
    assert levels == {"1.4": "clear", "1.6": "tight", "2.0": "fail"}
    inside = {
        t: stands(with_(rows | {"stack.cap.inside": f"{t} mm"}), "fit.cap").value for t in ("5.96", "5.98", "6.2")
    }
    assert inside == {"5.96": "fail", "5.98": "tight", "6.2": "fail"}
    none = assess(with_({"stack.cap.inside": "none"}))
    assert not [v for v in none.of_side("intake") if v.id == "fit.cap"]


def test_shims_are_counted_added_up_and_hard() -> None:
    four = with_({f"stack.shims.{n}": "0.25 mm" for n in (1, 2, 3, 4)})
    assert stands(four, "fit.shims") is Level.FAIL
    assert stands(with_({"stack.shims.1": "1 mm", "stack.shims.2": "1.02 mm"}), "fit.shims") is Level.FAIL
    assert stands(with_({"stack.shims.1": "1 mm", "stack.shims.2": "1 mm"}), "fit.shims") is Level.CLEAR
    assert stands(with_({"stack.rings.hardened": "not hardened"}), "fit.shims") is Level.FAIL
    none = assess(with_({"stack.shims.1": "none", "stack.shims.2": "none"}))
    assert not [v for v in none.of_side("intake") if v.id == "fit.shims"]


def test_a_height_no_shim_can_reach_fails_on_both_ends() -> None:
    found = {t: stands(with_({"stack.target_height": f"{t} mm"}), "stack.height_reachable").value for t in ("36.6", "36.5", "34.5", "34.4")}  # fmt: skip
    assert found == {"36.6": "fail", "36.5": "clear", "34.5": "clear", "34.4": "fail"}


def test_a_single_spring_and_a_finger_leave_out_what_they_do_not_have() -> None:
    single = with_({"stack.pack": "single"})
    assert list(outcomes(single, "fit.spring_retainer")) == ["outer spring on the retainer"]
    assert outcomes(single, "fit.seal")["seal inside the spring"] == "fits"
    assert "outer spring in the bucket" in outcomes(BUCKET, "fit.pocket")
    assert "outer spring in the bucket" not in outcomes(FINGER, "fit.pocket")
    lone = with_({"stack.locator.thickness": "none"})
    assert "locator over the guide" not in outcomes(lone, "fit.locator")
    # a beehive is smaller inside at its top
    hive = with_({"stack.outer.shape": "beehive", "stack.outer.outside_top": "23 mm"})
    assert outcomes(hive, "fit.spring_retainer")["outer spring on the retainer"] == Fits.NOT.value
    given = change(hive, "intake.stack.outer.inside_top", "20.8 mm")
    assert outcomes(given, "fit.spring_retainer")["outer spring on the retainer"] == Fits.FITS.value


def test_a_seal_held_by_its_groove_keeps_its_height_when_the_guide_is_cut() -> None:
    rows = {
        "stack.seal_height": "", "stack.seal.height": "8 mm", "stack.guide.seal_groove": "13 mm",
        "stack.guide.height": "15 mm",
    }  # fmt: skip

    def top(**more: str) -> float:
        made = with_(rows | {path.replace("__", "."): text for path, text in more.items()})
        return worth(assess(made), "stack.retainer_seal")

    groove, end = "groove in the guide", "end of the guide"
    assert top(stack__seal__held=groove) - top(stack__seal__held=end) == pytest.approx(2.0)
    cut = {"stack__guide__height": "14 mm"}
    assert top(stack__seal__held=groove, **cut) == pytest.approx(top(stack__seal__held=groove))
    assert top(stack__seal__held=end, **cut) - top(stack__seal__held=end) == pytest.approx(1.0)
    assert stands(with_(rows), "stack.retainer_seal") is Level.OPEN
    # a height that was taken goes before one that is added up
    taken = with_(rows | {"stack.seal.held": groove, "stack.seal_height": "22.5 mm"})
    assert worth(assess(taken), "stack.retainer_seal") == worth(assess(BUCKET), "stack.retainer_seal")


def test_titanium_and_aluminium_carry_their_cautions() -> None:
    said = cautions(
        assess(with_({"stack.retainer.material": "titanium", "stack.valve.material": "titanium"})).sides["intake"]
    )
    assert len(said) == 2
    assert "scratch" in said[0]
    assert cautions(assess(BUCKET).sides["intake"]) == []
    assert "hours" in cautions(assess(with_({"stack.retainer.material": "aluminium"})).sides["intake"])[0]


def test_what_is_not_known_of_the_locks_depth_is_said_beside_the_tip() -> None:
    found = assess(with_({"stack.locks.outside": ""}))
    # groove 5.2 below the tip, locks 3.4 above the groove
    assert worth(found, "fit.tip_proud") == pytest.approx(1.8)
    assert "taken as home" in found.verdict("fit.tip_proud", "intake").note


def test_a_stack_that_is_too_low_is_told_so_and_one_on_target_is_not() -> None:
    told = {
        t: assess(with_({"stack.target_height": f"{t} mm"})).verdict("stack.height_reachable", "intake")
        for t in ("36.6", "36.5")
    }
    assert "no shim raises a spring" in told["36.6"].note
    assert "no shim" not in told["36.5"].note
    assert worth(assess(with_({"stack.target_height": "36.5 mm"})), "stack.height_reachable") == pytest.approx(0.0)
