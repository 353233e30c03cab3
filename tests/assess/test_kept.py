"""What an edit leaves standing: figures kept from before equal those worked anew, on both sides, whatever is edited."""

from collections.abc import Callable, Iterator
from functools import partial

import pytest
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from arcstack.assess import Assessment, assess, checks, figures, reads
from arcstack.assess.catalogue import find
from arcstack.assess.context import Context, known
from arcstack.checks import Figure
from arcstack.demo import demo_builds
from arcstack.document import FIELDS, Build, Entry, Kind, Override, change, get, set_curve
from arcstack.errors import FieldError
from arcstack.trials.packs import at_height, exchanged, filled, fitted
from tests.builds import BY, OTHERS, readings

BUILDS = [*demo_builds(), *(make() for make in OTHERS)]


def everything(found: Assessment) -> Iterator[tuple[str, object]]:
    for v in found.verdicts:
        yield v.key, (v.level, v.figure, v.limit, v.missing, v.note)
    for side, ctx in found.sides.items():
        for name in figures():
            figure = find(ctx, name)
            yield f"{name}@{side}", figure if isinstance(figure, Figure) else (type(figure), str(figure))


def same(kept: Assessment, fresh: Assessment) -> None:
    for (name, a), (_, b) in zip(everything(kept), everything(fresh), strict=True):
        assert a == b, name


def moved(build: Build, path: str, data: st.DataObject) -> Build:
    """The build with a field changed to something near what stands there, emptied, or chosen otherwise."""
    spec = FIELDS[path]
    if spec.kind is Kind.CHOICE:
        # one about a part can be left unsaid, too
        return change(build, path, data.draw(st.sampled_from([*spec.options, *([""] if spec.assumed else [])])))
    held = get(build, path)
    if spec.quantity is None:
        return change(build, path, "")
    if not isinstance(held, Entry):
        middle = (spec.quantity.low + spec.quantity.high) / 2
        return change(build, path, f"{middle:.4g} {spec.quantity.dimension.canonical_word}".strip(), by=BY)
    if data.draw(st.booleans()):
        return change(build, path, "")
    value = held.value * data.draw(st.sampled_from([0.98, 1.01, 1.05]))
    return change(build, path, f"{value:.6g} {spec.quantity.dimension.canonical_word}".strip(), by=BY)


@settings(
    max_examples=60, deadline=None, phases=[Phase.explicit, Phase.generate], suppress_health_check=list(HealthCheck)
)
@given(st.data(), st.integers(0, len(BUILDS) - 1))
def test_after_any_edits_what_is_kept_equals_what_is_worked_anew(data: st.DataObject, which: int) -> None:
    build = BUILDS[which]
    kept = assess(build)
    for path in data.draw(st.lists(st.sampled_from([f.path for f in FIELDS.of(build)]), min_size=1, max_size=4)):
        try:
            build = moved(build, path, data)
        except FieldError:
            continue
        kept = assess(build, before=kept)
    same(kept, assess(build))


@pytest.mark.parametrize("build", BUILDS, ids=lambda b: b.name.split(",")[0])
def test_another_head_is_taken_over_from_where_the_two_are_alike(build: Build) -> None:
    fresh = assess(build)
    for other in BUILDS:
        at_hand = assess(other)
        ask(at_hand)
        same(assess(build, before=at_hand), fresh)
    alike = build.model_copy(update={"name": "Its twin"})
    made = assess(alike, before=fresh)
    assert (
        made.sides["exhaust"].memo["arcstack.assess.cam.curve"]
        is fresh.sides["exhaust"].memo["arcstack.assess.cam.curve"]
    )


def test_a_retainers_step_leaves_most_of_the_head_standing() -> None:
    before = assess(BUILDS[0])
    ask(before)
    after = assess(change(BUILDS[0], "intake.stack.retainer.step", "1.7 mm"), before=before)
    rows = dict(everything(before)), dict(everything(after))
    turned = [name for name in rows[0] if rows[0][name] != rows[1][name]]
    assert 10 < len(turned) < 60
    assert all(name.endswith("@intake") for name in turned)
    # the lift curve, which is dear, and everything that rests on nothing else
    names = ("arcstack.assess.cam.curve", "arcstack.assess.contact.least_radius", "arcstack.assess.piston.pair")
    for name in names:
        assert before.sides["intake"].memo[name] is after.sides["intake"].memo[name]


def ask(found: Assessment) -> None:
    for _ in everything(found):
        pass


@pytest.mark.parametrize("build", BUILDS, ids=lambda b: b.name.split(",")[0])
def test_no_figure_looks_past_what_notes_its_reading(build: Build, monkeypatch: pytest.MonkeyPatch) -> None:
    """While a figure is being worked the bare document is not there, but for the limits, which note what they read."""
    bare = assess(build).sides["intake"].build

    class Bare:
        overrides = bare.overrides

        def __getattr__(self, name: str) -> object:
            raise AssertionError(f"{name} was read past what notes it")

    found = assess(build)
    for ctx in found.sides.values():
        ctx.memo.clear()
        monkeypatch.setattr(ctx, "build", Bare())
    monkeypatch.setattr(Context, "variants", lambda self, lobes, name: ())
    for side, ctx in found.sides.items():
        for name in figures():
            find(ctx, name)
            assert ctx.memo, side


@pytest.mark.parametrize("build", BUILDS, ids=lambda b: b.name.split(",")[0])
def test_what_else_can_change_is_kept_rightly_too(build: Build) -> None:
    kept = assess(build)
    ask(kept)
    limit = Override(low=Entry(value=1.0, typed="1 mm", evidence="assumed"), reason="ran before", by=BY)  # type: ignore[arg-type]
    steps = [
        build.model_copy(update={"overrides": {"spring.reserve.outer@intake": limit}}),
        build.model_copy(update={"practice": "sprint"}),
        build.model_copy(update={"name": "another", "note": "x"}),
        set_curve(build, "intake", readings(seed=7)),
        set_curve(build, "exhaust", None),
        at_height(build, "exhaust", 35.4),
        *(made(build, "intake", slot) for slot in filled(build, "intake") for made in (fitted, exchanged)),
    ]
    for step in steps:
        kept = assess(step, before=kept)
        same(kept, assess(step))
    same(assess(build, before=kept), assess(build))


def test_what_differs_between_two_documents_is_named() -> None:
    build = BUILDS[0]
    edited = change(change(build, "intake.stack.shims.2", ""), "brief.limiter", "7900")
    assert set(reads.tokens(reads.changed(build, edited))) == {"brief.limiter", "intake.stack.shims"}
    assert reads.changed(build, build) == 0
    assert reads.changed(build, build.model_copy(update={"overrides": {}})) == 0


@pytest.mark.parametrize("build", BUILDS, ids=lambda b: b.name.split(",")[0])
def test_a_bare_value_is_that_of_the_figure_with_its_working(build: Build) -> None:
    bare = [c for c in checks().values() if c.bare is not None]
    assert len(bare) > 6
    for ctx in assess(build).sides.values():
        for check in bare:
            wanted = ask_for(partial(lambda one, c: one.work(c).value, check), ctx)
            found = ask_for(check.value, ctx)
            assert found == (pytest.approx(wanted, rel=1e-12) if isinstance(wanted, float) else wanted), check.id


def ask_for(work: Callable[[Context], float], ctx: Context) -> object:
    found = known(partial(work, ctx))
    return found if found is not None else "not known"
