import re

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from arcstack.assess import assess
from arcstack.assess.catalogue import figures, find
from arcstack.checks import Evidence, Figure, Level
from arcstack.demo import demo_builds
from arcstack.document import FIELDS, Build, Entry, Kind, change, get
from arcstack.trials.cams import tried
from arcstack.units import ANGLE, FORCE, LENGTH, System
from arcstack.views.margins import WIDTH, margins, share
from arcstack.views.rows import beneath, field_row, number_text
from arcstack.views.working import inputs, lines
from arcstack.web.kit.stage import Stages
from arcstack.web.pages.compare import table
from arcstack.web.stages import every_stage
from tests.builds import SWEEPS
from tests.web.conftest import Browser

SOUND, FAILING = demo_builds()


def entry(typed: str, value: float) -> Entry:
    return Entry(value=value, typed=typed, evidence=Evidence.PRINTED)


@pytest.mark.parametrize(
    ("held", "dimension", "system", "number", "below"),
    [
        (entry("36.5 mm", 36.5), LENGTH, System.MM, "36.5", "1.4370 in"),
        (entry("36.5 mm", 36.5), LENGTH, System.INCH, "1.4370", "36.5 mm"),
        (entry("1.437 in", 36.4998), LENGTH, System.MM, "36.500", "1.437 in"),
        (entry("1.437 in", 36.4998), LENGTH, System.INCH, "1.437", "36.50 mm"),
        (entry("50 thou", 1.27), LENGTH, System.MM, "1.270", "50 thou"),
        (entry("95 lbf", 422.581), FORCE, System.INCH, "95", "423 N"),
        (entry("95 lb", 422.581), FORCE, System.INCH, "95", "423 N"),
        (entry("106 deg", 1.850049), ANGLE, System.MM, "106", ""),
        (entry("-0,5 mm", -0.5), LENGTH, System.MM, "-0.5", "−0.0197 in"),
    ],
)
def test_a_field_shows_what_was_typed_where_it_can(
    held: Entry, dimension: object, system: System, number: str, below: str
) -> None:
    assert number_text(held, dimension, system) == number  # type: ignore[arg-type]
    assert beneath(held, dimension, system) == below  # type: ignore[arg-type]


@pytest.mark.parametrize("system", list(System))
def test_what_a_field_shows_is_taken_back_as_it_stands(system: System) -> None:
    for path, spec in FIELDS.items():
        if spec.kind is Kind.QUANTITY and isinstance(get(SOUND, path), Entry):
            row = field_row(SOUND, path, system)
            again = get(change(SOUND, path, row.text, system=system), path)
            assert again.value == pytest.approx(get(SOUND, path).value, abs=0.006, rel=2e-3), path


def test_margins_put_the_worst_first_and_the_unjudged_last() -> None:
    gauges = margins(assess(FAILING), "intake", System.MM)
    levels = [g.verdict.level for g in gauges if g.verdict.judges]
    assert levels == sorted(levels, key=lambda level: -level.severity)
    assert levels[:2] == [Level.FAIL, Level.FAIL]
    assert [g.verdict.id for g in gauges if not g.verdict.judges] == ["gas.boost_rule"]
    assert "shown, not judged" in gauges[-1].told
    inner = next(g for g in gauges if g.verdict.id == "spring.reserve.inner")
    assert inner.told == "at least 1.50 mm · goes solid 0.29 mm before full lift"
    for g in gauges:
        assert g.at is None or 0 <= g.at <= WIDTH
        assert all(0 <= t <= WIDTH for t in g.ticks)


def test_a_stages_share_of_the_margins_counts_what_fails_elsewhere() -> None:
    gauges = margins(assess(FAILING), "intake", System.MM)
    of_clearance = share(gauges, "clearance", "Clearance")
    assert of_clearance is not None
    assert of_clearance.here == sum(g.verdict.stage == "clearance" for g in gauges) > 1
    # inner reserve fails too, on another stage
    assert of_clearance.failing_elsewhere == 1
    assert share(gauges, "brief", "Brief") is None


def test_an_open_margin_names_what_it_needs() -> None:
    gauges = {g.verdict.id: g for g in margins(assess(Build(name="x")), "intake", System.MM)}
    assert gauges["piston.clearance"].told == "needs stroke, rod, centre to centre, intake clearance, valve angle"
    assert gauges["spring.seat_load"].told.endswith("and 1 more")


def test_working_is_whole_for_every_figure() -> None:
    for side, ctx in assess(SOUND, SWEEPS.answer).sides.items():
        for name in figures():
            found = find(ctx, name)
            assert isinstance(found, Figure)
            assert inputs(found, System.MM) or found.formula is None, (side, name)
            for line in lines(found, System.INCH):
                assert line.result
                assert not re.search(r"\b(nan|inf)\b", line.result + line.numbers), (side, name)


def test_every_figure_on_a_page_is_there_and_every_field_its_stage() -> None:
    stages = Stages()
    stages.install(every_stage())
    stage_of = stages.of_field
    assert {name for s in stages for name, _ in s.figures} <= set(figures())
    assert stage_of("intake.stack.retainer.step") == "stack"
    assert stage_of("brief.boost") == "brief"
    assert stage_of("exhaust.clearance.drop_at_tdc") == "clearance"


def test_comparison_ranks_best_and_worst_and_leaves_ties_alone() -> None:
    now, kept, same = assess(SOUND), ("Fennel in", FAILING.intake.cam), ("the same", SOUND.intake.cam)
    rows = {r.label: r.cells for r in table(tried(now, "intake", [kept, same]), System.MM)}
    assert [c.rank for c in rows["Net lift"]] == ["worst", "best", "worst"]
    assert [c.rank for c in rows["Open load"]] == ["", "", ""]
    assert rows["Retainer to seal"][1].level is Level.FAIL
    alone = {r.label: r.cells for r in table(tried(now, "intake", [same]), System.MM)}
    assert all(c.rank == "" for c in alone["Net lift"])


@settings(
    max_examples=120, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow]
)
@given(st.sampled_from(sorted(FIELDS)), st.text(max_size=50), st.sampled_from(["edit", "preview"]))
def test_no_text_in_any_field_breaks_a_page(browser: Browser, path: str, text: str, mode: str) -> None:
    build = browser.workshop.open(browser.sound)
    form = {"path": path, "text": text, "base": build.revision, "stage": "stack", "side": "intake"}
    response = browser.client.post(
        f"/builds/{browser.sound}/{mode}",
        data=form,
        headers={"X-CSRFToken": browser.token, "Referer": "http://localhost/"},
    )
    assert response.status_code in (200, 422)
    assert "Traceback" not in response.get_data(as_text=True)
