"""Any accepted edit of any field leaves every page answering, and reads back to the same figure."""

import json
from datetime import datetime
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from arcstack.application import Sweeps, Who, Workshop
from arcstack.checks import Evidence
from arcstack.demo import demo_builds
from arcstack.document import FIELDS, NONE, VERSION, Build, Entry, Kind, change, get
from arcstack.errors import FieldError
from arcstack.formats import read_build, write_build
from arcstack.units import System
from arcstack.views.rows import field_row
from arcstack.web import create_app
from arcstack.web.stages import every_stage
from tests.builds import BY, OTHERS

WHO = Who("ann", lambda: datetime(2026, 3, 1, 8))
QUANTITIES = [f for f in FIELDS.values() if f.kind is Kind.QUANTITY]


@st.composite
def texts(draw: st.DrawFn, path: str) -> str:
    """What may be typed into a field: its ends, what lies between, fractions, none, nonsense."""
    spec = FIELDS[path]
    if spec.kind is Kind.CHOICE:
        return draw(st.sampled_from(spec.options))
    if spec.quantity is None:
        return draw(
            st.sampled_from(["", "R-7", "3 1.52; 6 1.6", "36 330; 31 500; 26 700", "in lbf; 1.4 75; 1.2 110; 1 150"])
        )
    q, system = spec.quantity, draw(st.sampled_from(System))
    from arcstack.units import plain

    value = draw(st.one_of(st.sampled_from([q.low, q.high, (q.low + q.high) / 2]), st.floats(q.low, q.high)))
    return draw(
        st.one_of(
            st.just(plain(float(f"{value:.5g}"), q.dimension, system)), st.just(f"{value:.3g}"), st.just(NONE), st.just(""),
            st.builds("{} {}/{}{}".format, st.integers(0, 90), st.integers(1, 9), st.integers(1, 16), st.sampled_from(["", ".", ' "', " mm"])),
        )
    )  # fmt: skip


@settings(max_examples=400, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    st.data(), st.sampled_from([f.path for f in FIELDS.values()]), st.sampled_from(System), st.sampled_from(Evidence)
)
def test_any_accepted_text_reads_back_to_the_same_figure(
    data: st.DataObject, path: str, system: System, evidence: Evidence
) -> None:
    text = data.draw(texts(path))
    try:
        build = change(Build(name="x"), path, text, evidence, system, BY)
    except FieldError as error:
        assert error.message
        return
    assert read_build(write_build(build), kept=True) == build
    held = get(build, path)
    if isinstance(held, Entry):
        # what is kept as typed is taken again, in either system, to the last digit
        for shown in System:
            again = get(change(build, path, held.typed, evidence, shown, BY), path)
            assert isinstance(again, Entry)
            assert (again.value, again.typed) == (held.value, held.typed)
            assert field_row(build, path, shown).text


@pytest.fixture(scope="module")
def served(tmp_path_factory: pytest.TempPathFactory) -> tuple[FlaskClient, Workshop]:
    app = create_app(tmp_path_factory.mktemp("properties"), sweeps=Still())
    app.config["WTF_CSRF_ENABLED"] = False
    return app.test_client(), app.extensions["shop"].workshop


class Still(Sweeps):
    """Sweeps that nobody works: the pages stand without them."""

    def start(self, question: object, again: bool = False) -> object:  # type: ignore[override]
        from arcstack.application import Progress, State

        return Progress(State.STOPPED, 0, 1)


BUILDS = [*demo_builds(), *(make() for make in OTHERS)]


@settings(
    max_examples=24, deadline=None, phases=[Phase.explicit, Phase.generate],
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.function_scoped_fixture],
)  # fmt: skip
@given(st.data(), st.integers(0, len(BUILDS) - 1))
def test_any_accepted_edits_leave_every_page_answering(
    served: tuple[FlaskClient, Workshop], data: st.DataObject, which: int
) -> None:
    client, workshop = served
    build = BUILDS[which]
    paths = data.draw(st.lists(st.sampled_from([f.path for f in FIELDS.values()]), min_size=1, max_size=6))
    told = []
    for path in paths:
        text = data.draw(texts(path))
        try:
            build = change(build, path, text, by=BY)
            told.append((path, text))
        except FieldError:
            continue
    build_id = workshop.create(build, WHO)
    for side in ("intake", "exhaust"):
        for page in (*(s.name for s in every_stage()), "revisions", "practice", "cams"):
            answer = client.get(f"/builds/{build_id}/{side}/{page}")
            assert answer.status_code == 200, (told, page)
            assert "NaN" not in answer.get_data(as_text=True), (told, page)
    exported = client.get(f"/builds/{build_id}/export")
    assert json.loads(exported.get_data())["name"] == build.name
    form = {"path": "engine.code", "text": "again", "base": "1", "stage": "stack", "side": "intake"}
    assert client.post(f"/builds/{build_id}/edit", data=form).status_code == 200
    assert client.post(f"/builds/{build_id}/undo", data={"base": "2"}).status_code == 204


def test_every_quantity_takes_its_own_ends() -> None:
    for spec in QUANTITIES:
        assert spec.quantity is not None
        for end in (spec.quantity.low, spec.quantity.high):
            spec.quantity.check(end)


def test_what_a_database_of_an_earlier_version_holds_still_opens(tmp_path: Path) -> None:
    brief = {
        name: {"value": value, "typed": f"{value} bar", "evidence": "measured"}
        for name, value in (("back_pressure", 1.5), ("pulse_peak", 1.0))
    }
    raw = {"format": "arc-stack-build", "version": 1, "name": "old", "brief": brief}
    old = read_build(json.dumps(raw), kept=True)
    assert old.version == VERSION
    # the pair that cannot be is told where it is next touched, and other fields may still be edited
    assert change(old, "engine.stroke", "86").engine.stroke is not None
    with pytest.raises(FieldError, match="a peak stands above its mean"):
        change(old, "brief.pulse_peak", "1.1 bar")
