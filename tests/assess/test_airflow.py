"""Throat, curtain and useful lift; flow brought to one depression; what that advises."""

import math

import numpy as np
import pytest

from arcstack.application.starts import template
from arcstack.assess import assess
from arcstack.assess.airflow import advice, flow_share, mean_flow, past_useful_deg, table, useful_lift
from arcstack.checks import Level
from arcstack.document import Build, change
from arcstack.document.flow_table import read_flow_table
from arcstack.errors import FieldError, MissingInput
from arcstack.mech import airflow
from arcstack.mech.airflow import FlowTable
from tests.builds import typed

HEAD = typed(
    template("bucket"),
    {
        "both.stack.valve.head": "33.5 mm", "both.stack.valve.stem": "5.97 mm", "both.port.throat": "29.2 mm",
        "intake.port.flow": "2 60; 4 110; 6 150; 8 170", "intake.port.flow_at": "25",
        "exhaust.port.flow": "2 48; 4 88; 6 120; 8 130", "exhaust.port.flow_at": "25",
    },
)  # fmt: skip


def test_the_curtain_equals_the_throat_at_the_useful_lift() -> None:
    found = useful_lift(assess(HEAD).sides["intake"])
    assert found.value == pytest.approx((29.2**2 - 5.97**2) / (4 * 33.5))
    assert airflow.curtain_mm2(33.5, found.value) == pytest.approx(airflow.throat_mm2(29.2, 5.97))
    # without the stem it would come out too high
    assert airflow.useful_lift_mm(33.5, 29.2, 0.0) > found.value
    assert useful_lift(assess(HEAD).sides["intake"]).note


def test_time_past_useful_lift_is_counted_on_net_lift() -> None:
    ctx = assess(HEAD).sides["intake"]
    past = past_useful_deg(ctx)
    assert 40 < past < 120
    wide = assess(change(HEAD, "intake.port.throat", "33 mm")).sides["intake"]
    assert past_useful_deg(wide) < past
    assert past_useful_deg(assess(change(HEAD, "intake.stack.valve.head", "21 mm")).sides["intake"]) == 0.0
    lashed = assess(change(HEAD, "intake.cam.lash", "0.5 mm")).sides["intake"]
    assert past_useful_deg(lashed) < past


@pytest.mark.parametrize(
    ("throat", "level"),
    [("28.3 mm", "tight"), ("28.48 mm", "clear"), ("29.9 mm", "clear"), ("30.1 mm", "tight"),
     ("30.3 mm", "fail")],
)  # fmt: skip
def test_a_wide_throat_fails_and_a_narrow_one_only_costs_flow(throat: str, level: str) -> None:
    assert assess(change(HEAD, "intake.port.throat", throat)).verdict("valve.throat", "intake").level.value == level


def test_a_cap_on_lift_applies_where_there_is_one_and_names_what_sets_it() -> None:
    assert not [v for v in assess(HEAD).of_side("intake") if v.id == "lift.cap"]
    gross = assess(HEAD).verdict("lift.useful", "intake").figure
    assert gross is not None
    levels = {}
    for text in ("9.0 mm", "9.5 mm", "12 mm"):
        capped = change(change(HEAD, "intake.port.lift_cap", text), "intake.port.cap_reason", "arm on the head")
        v = assess(capped).verdict("lift.cap", "intake")
        levels[text] = v.level
        assert "arm on the head" in v.note
        assert v.figure is not None
        assert v.figure.value == pytest.approx(float(text.split()[0]) - HEAD.intake.cam.lobe_lift.value)  # type: ignore[union-attr]
    assert levels["12 mm"] is Level.CLEAR
    assert levels["9.0 mm"] is Level.FAIL


def test_flows_at_unlike_depressions_are_brought_to_one() -> None:
    same = assess(HEAD).sides["intake"]
    share = flow_share(same).value
    useful = useful_lift(same).value
    assert share == pytest.approx(
        float(np.interp(useful, (6, 8), (120, 130))) / float(np.interp(useful, (6, 8), (150, 170)))
    )
    # the exhaust taken at four times the depression flows half as much at the intake's
    quarter = assess(change(HEAD, "exhaust.port.flow_at", "100")).sides["exhaust"]
    assert flow_share(quarter).value == pytest.approx(share / 2)
    # one depression alone says nothing of the other; none at all is told
    for side, other in (("intake", "exhaust"), ("exhaust", "intake")):
        with pytest.raises(MissingInput) as told:
            flow_share(assess(change(HEAD, f"{side}.port.flow_at", "")).sides[other])
        assert told.value.missing[0].path == f"{side}.port.flow_at"
    neither = typed(HEAD, {"intake.port.flow_at": "", "exhaust.port.flow_at": ""})
    assert "taken as of one" in flow_share(assess(neither).sides["intake"]).note
    assert "as of one depression" in advice(assess(neither).sides["intake"])[0].why
    assert not flow_share(same).note
    both = typed(HEAD, {"intake.port.flow_before": "2 50; 4 90; 6 120", "intake.port.flow_before_at": "10"})
    before = table(assess(both).sides["intake"], before=True)
    assert before is not None
    assert before.flow == pytest.approx([f * math.sqrt(2.5) for f in (50, 90, 120)])


@pytest.mark.parametrize(
    ("exhaust", "says"),
    [("2 30; 4 60; 6 80; 8 90", "longer exhaust"), ("2 48; 4 88; 6 120; 8 130", "One pattern"),
     ("2 60; 4 110; 6 149; 8 165", "shorter exhaust")],
)  # fmt: skip
def test_advice_follows_the_share_and_the_turbine_side(exhaust: str, says: str) -> None:
    made = change(HEAD, "exhaust.port.flow", exhaust)
    for side in ("intake", "exhaust"):
        found = advice(assess(made).sides[side])
        assert says in found[0].says
        assert len(found) == 1
    hot = typed(made, {"brief.boost": "1 bar", "brief.back_pressure": "1.6 bar"})
    assert "Less overlap" in advice(assess(hot).sides["intake"])[1].says
    assert advice(assess(Build(name="x")).sides["intake"]) == []


def test_the_mean_over_an_event_lies_between_its_ends_and_tells_cams_apart() -> None:
    ctx = assess(HEAD).sides["intake"]
    found = mean_flow(ctx)
    assert 60 < found.value < 170
    longer = assess(change(HEAD, "intake.cam.lobe_lift", "10.5 mm")).sides["intake"]
    assert mean_flow(longer).value > found.value
    with pytest.raises(MissingInput) as told:
        mean_flow(assess(change(HEAD, "intake.port.flow", "")).sides["intake"])
    assert told.value.missing[0].path == "intake.port.flow"


@pytest.mark.parametrize(
    ("text", "said"),
    [("2 60; 4 110", "three rows"), ("2 60; 2 70; 4 110", "must rise"), ("2 60; x; 4 110", "no lift and flow"),
     ("2 60; 4 110; 60 150", "no valve's lift")],
)  # fmt: skip
def test_a_table_that_is_none_says_why(text: str, said: str) -> None:
    with pytest.raises(ValueError, match=said):
        read_flow_table(text)
    with pytest.raises(FieldError):
        change(HEAD, "intake.port.flow", text)


def test_a_table_in_inches_reads_as_in_millimetres_and_stays_flat_past_its_end() -> None:
    assert read_flow_table("in; 0.1 60; 0.2 110; 0.3 140") == FlowTable((2.54, 5.08, 7.62), (60, 110, 140))
    assert read_flow_table("0.1 in 60; 5.08 110; 7.62 140") == FlowTable((2.54, 5.08, 7.62), (60, 110, 140))
    flow = read_flow_table("2 60; 4 110; 6 150; 8 155; 10 152")
    assert [float(flow.at(x)) for x in (-1.0, 0.0, 1.0, 12.0)] == [0.0, 0.0, 30.0, 152.0]
    assert flow.flattens_mm() == 6.0
    assert read_flow_table("2 60; 4 120; 6 180").flattens_mm() is None
    assert airflow.mean_flow(flow, np.zeros(5), np.linspace(-1, 1, 5)) == 0.0
