"""The workshop's list, sides copied, templates, and practices of one's own."""

from datetime import datetime
from pathlib import Path

import pytest

from arcstack.application import PracticeLibrary, Who, Workshop, standing
from arcstack.application.copying import PARTS, copied, other_side
from arcstack.application.starts import template, templates
from arcstack.application.summary import read, written
from arcstack.assess import assess
from arcstack.checks import Evidence, Level
from arcstack.demo import demo_builds
from arcstack.document import FIELDS, Absent, Build, Entry, change, get, judged_by
from arcstack.document.parts import Candidate
from arcstack.errors import FieldError, NameTaken, NotFound, PracticeError
from arcstack.practice import OwnLimit, OwnSchool, practice, write_own
from arcstack.store import Database, Kind, Order, Shelf
from tests.builds import bramble, quill, sorrel

WHO = Who("ann", lambda: datetime(2026, 3, 1, 8, 30))
SOUND, FAILING = demo_builds()
WHOLE = [p for p in PARTS if p != "packs"]


@pytest.fixture
def workshop(tmp_path: Path) -> Workshop:
    return Workshop(Database.open(tmp_path / "workshop.sqlite"))


# -- the list


def test_builds_are_found_by_every_word_of_name_customer_job_marks_and_engine(workshop: Workshop) -> None:
    ids = [workshop.create(b, WHO) for b in (SOUND, FAILING, Build(name="ÖRE, 50% _off"))]
    for search, found in (
        ("", ids), ("hill", [ids[0]]), ("ORRIN ice", [ids[1]]), ("26-0", ids[:2]), ("tk-4 ferrow", [ids[0]]),
        ("exhaust face", [ids[1]]), ("öre", [ids[2]]), ("%", [ids[2]]), ("_off", [ids[2]]), ("nothing", []),
    ):  # fmt: skip
        assert sorted(b.id for b in workshop.builds(search=search).rows) == sorted(found), search
    # what is said of the job is read anew with each change
    current = workshop.open(ids[2])
    renamed = change(change(current.build, "job.customer", "Quen"), "job.number", "9")
    workshop.save(ids[2], 1, renamed, WHO, workshop.revisions(ids[2]).rows[0].reason)
    assert [(b.customer, b.job) for b in workshop.builds(search="quen").rows] == [("Quen", "9")]


def test_builds_are_sorted_by_what_is_asked(workshop: Workshop) -> None:
    ids = [workshop.create(b, WHO) for b in (SOUND, FAILING, Build(name="a"), Build(name="Z"))]
    names = [b.name for b in workshop.builds(order=Order.NAME).rows]
    assert names == sorted(names, key=str.lower)
    assert [b.customer for b in workshop.builds(order=Order.CUSTOMER).rows] == ["Ada Ferrow", "Orrin Ice Club", "", ""]
    assert [b.job for b in workshop.builds(order=Order.JOB).rows] == ["26-014", "26-022", "", ""]
    assert [b.id for b in workshop.builds().rows] == ids[::-1]
    for build_id, build in zip(ids, (SOUND, FAILING), strict=False):
        found = standing(assess(build), 1)
        workshop.summarise(build_id, found.place, written(found))
    assert [b.id for b in workshop.builds(order=Order.WORST).rows][:2] == [ids[1], ids[0]]


def test_a_build_is_put_away_and_brought_back_and_only_a_deleted_one_goes_for_good(workshop: Workshop) -> None:
    one, two = (workshop.create(b, WHO) for b in (SOUND, FAILING))
    assert workshop.shelve(one, Shelf.ARCHIVED, WHO).shelf is Shelf.OPEN
    assert [b.id for b in workshop.builds().rows] == [two]
    assert [b.id for b in workshop.builds(shelf=Shelf.ARCHIVED).rows] == [one]
    with pytest.raises(NotFound, match="not among the deleted"):
        workshop.remove(one)
    workshop.shelve(one, Shelf.DELETED, WHO)
    assert [workshop.count(s) for s in Shelf] == [1, 0, 1]
    # it can still be read, and comes back whole
    assert workshop.open(one).build == SOUND
    workshop.shelve(one, Shelf.OPEN, WHO)
    assert workshop.row(one).shelf is Shelf.OPEN
    workshop.shelve(one, Shelf.DELETED, WHO)
    workshop.remove(one)
    with pytest.raises(NotFound):
        workshop.open(one)
    assert workshop.open(two).build == FAILING


def test_pages_of_a_search_are_counted_by_what_it_finds(workshop: Workshop) -> None:
    for n in range(105):
        workshop.create(Build(name=f"head {n}"), WHO)
    workshop.create(Build(name="other"), WHO)
    assert (workshop.builds(2).number, workshop.builds(2).of, len(workshop.builds(2).rows)) == (2, 2, 6)
    found = workshop.builds(9, search="head")
    assert (found.number, found.of, len(found.rows)) == (2, 2, 5)
    assert workshop.builds(2, search="other").of == 1


def test_a_copy_of_a_build_is_told_by_its_identity(workshop: Workshop) -> None:
    one = workshop.create(SOUND, WHO)
    exported = workshop.exported(one)
    assert exported.identity
    assert workshop.open(one).build.identity == ""
    here = workshop.same(exported)
    assert here is not None
    assert here.id == one
    assert workshop.same(SOUND) is None
    # taken in as a build of its own it has an identity of its own
    two = workshop.create(exported, WHO)
    assert workshop.row(two).identity not in ("", exported.identity)
    copy = workshop.duplicate(one, "Tamarack, spare", WHO)
    assert workshop.row(copy).identity not in ("", exported.identity)
    assert workshop.open(copy).build == SOUND.model_copy(update={"name": "Tamarack, spare"})
    assert workshop.revisions(copy).rows[0].reason.kind is Kind.DUPLICATED


def test_a_standing_tells_the_worst_how_far_and_what_is_next() -> None:
    failing = standing(assess(FAILING), 4)
    assert (failing.level, failing.revision, failing.stage, failing.side) == (Level.FAIL, 4, "stack", "intake")
    # its printed solid height may be worse yet than it says
    assert failing.next == "Inner reserve fails, intake, 2 more"
    assert failing.done == failing.stages - 2
    alone = standing(assess(change(FAILING, "intake.stack.inner.solid", "18")), 1)
    assert alone.next == "Piston, phased fails, intake, 1 more"
    # a stage whose train is still being turned counts as done
    sound = standing(assess(SOUND), 1)
    assert sound.done == sound.stages
    assert standing(assess(SOUND), 1).partial
    empty = standing(assess(Build(name="x")), 1)
    assert (empty.known, empty.proven, empty.done, empty.place) == (0, 0, 0, -1)
    assert empty.next.startswith("enter ")
    assert (empty.path, empty.next) == ("intake.stack.outer.height_1", "enter outer height 1, intake")
    proven = standing(assess(quill()), 1)
    assert proven.proven > 30
    # one shim taken out of a sound build: what is missing is named with its side
    short = standing(assess(change(SOUND, "intake.stack.open_height", "")), 1)
    assert (short.path, short.next) == ("intake.stack.open_height", "enter open height, intake")
    assert short.done < failing.stages


def test_what_was_kept_is_taken_for_its_own_revision_and_program_only() -> None:
    found = standing(assess(SOUND), 3)
    assert read(written(found), 3) == found
    assert read(written(found), 4) is None
    assert read(written(found).replace(found.program, "0.0.1"), 3) is None
    for text in (None, "", "{", "[]", '{"revision": 3}'):
        assert read(text, 3) is None


# -- copied


@pytest.mark.parametrize("build", [SOUND, FAILING, quill(), sorrel(), bramble()], ids=lambda b: b.name)
@pytest.mark.parametrize("to", ["intake", "exhaust"])
def test_a_side_copied_has_the_other_s_figures_and_none_of_its_proof(build: Build, to: str) -> None:
    of = other_side(to)
    made = copied(build, to, build.side(of), WHOLE)
    assert made.side(of) == build.side(of)
    assert made.brief == build.brief
    for field in FIELDS.of(build):
        if not field.path.startswith(f"{to}.") or ".candidates." in field.path:
            continue
        here, there = get(made, field.path), get(build, f"{of}{field.path[len(to) :]}")
        if isinstance(there, Entry):
            assert (here.value, here.typed) == (there.value, there.typed), field.path
            assert here.evidence is (Evidence.ASSUMED if there.evidence is Evidence.MEASURED else there.evidence)
            assert here.by is None
        elif isinstance(there, Absent):
            assert here == Absent(none=True)
        else:
            assert here == there
    # nothing that was measured on the other side proves anything here
    verdicts = assess(made).of_side(to)
    assert not [
        v.id
        for v in verdicts
        if v.proven and v.figure and any(i.path and i.path.startswith(to) for i in v.figure.inputs)
    ]


def test_a_part_copied_leaves_the_others() -> None:
    made = copied(FAILING, "exhaust", SOUND.intake, ["retainer", "cam"])
    assert made.exhaust.stack.retainer.code == SOUND.intake.stack.retainer.code
    assert made.exhaust.cam.lobe_lift.typed == "10.00 mm"  # type: ignore[union-attr]
    assert made.exhaust.stack.valve == FAILING.exhaust.stack.valve
    assert made.exhaust.clearance == FAILING.exhaust.clearance
    # the height was read with another retainer
    held = made.exhaust.stack.open_height
    assert held is not None
    assert held.outdated.startswith("Retainer")
    assert copied(FAILING, "exhaust", SOUND.intake, []) == FAILING
    with pytest.raises(FieldError, match="no part called"):
        copied(FAILING, "exhaust", SOUND.intake, ["wheel"])


def test_packs_go_into_free_places_once_and_never_over_another() -> None:
    packs = tuple(Candidate(name=f"pack {n}") for n in range(1, 4))
    shelf = SOUND.intake.model_copy(update={"candidates": packs})
    once = copied(FAILING, "intake", shelf, ["packs"])
    assert [c.name for c in once.intake.candidates] == ["pack 1", "pack 2", "pack 3"]
    assert copied(once, "intake", shelf, ["packs"]) == once
    more = shelf.model_copy(update={"candidates": tuple(Candidate(name=f"other {n}") for n in range(3))})
    with pytest.raises(FieldError, match="No place is free for other 2"):
        copied(once, "intake", more, ["packs"])


def test_a_copy_that_cannot_be_is_refused() -> None:
    # the exhaust's shims fill half of this height
    low = change(SOUND, "exhaust.stack.shims.1", "4 mm")
    low = change(change(low, "exhaust.stack.shims.2", "4 mm"), "exhaust.stack.shims.3", "3.9 mm")
    thin = SOUND.model_copy(update={"intake": low.exhaust})
    short = thin.intake.model_copy(
        update={
            "stack": thin.intake.stack.model_copy(
                update={
                    "open_height": low.exhaust.stack.open_height.model_copy(update={"value": 20.0, "typed": "20 mm"})
                }
            )
        }  # type: ignore[union-attr]
    )
    with pytest.raises(FieldError, match="fill half"):
        copied(SOUND, "intake", short, ["heights"])


# -- templates


@pytest.mark.parametrize("key", templates())
def test_a_template_is_a_whole_head_with_every_figure_assumed_and_nothing_failing(key: str) -> None:
    build = template(key)
    held = [get(build, f.path) for f in FIELDS.of(build)]
    assert {e.evidence for e in held if isinstance(e, Entry)} == {Evidence.ASSUMED}
    assert {e.by for e in held if isinstance(e, Entry | Absent)} == {None}
    verdicts = [v for v in assess(build).verdicts if not v.waiting]
    assert [v.id for v in verdicts if v.level in (Level.FAIL, Level.OPEN)] == []
    assert not any(v.proven for v in verdicts)
    assert build.engine.follower.value == key


# -- practices


def test_a_practice_is_copied_changed_exported_and_taken_in(workshop: Workshop, tmp_path: Path) -> None:
    library = PracticeLibrary(workshop.database)
    made = library.copy("sprint", "  House,  sprint ", WHO)
    assert (made.name, made.version, made.based_on) == ("House, sprint", 1, "sprint")
    assert made.whole().limits == practice("sprint").limits
    changed = made.model_copy(
        update={
            "limits": {"control.separation": OwnLimit(low="1.12", reason="our dyno overshoots")},
            "schools": {"reserve": OwnSchool(value="floor", reason="short springs are measured")},
        }
    )
    saved = library.save(changed, WHO)
    assert (saved.version, library.get(made.id)) == (2, saved)
    assert library.save(saved, WHO) == saved
    whole = saved.whole()
    assert whole.limits["control.separation"].low == pytest.approx(1.12)
    assert whole.limits["control.separation"].tight == practice("sprint").limits["control.separation"].tight
    assert whole.schools.reserve == "floor"
    assert whole.limits["stack.retainer_seal"] == practice("sprint").limits["stack.retainer_seal"]
    with pytest.raises(NameTaken, match="House, sprint"):
        library.copy("balanced", "House, sprint", WHO)
    with pytest.raises(NotFound):
        library.copy("nobody", "x", WHO)
    with pytest.raises(FieldError, match="needs a name"):
        library.copy("balanced", " ", WHO)
    elsewhere = PracticeLibrary(Database.open(tmp_path / "other.sqlite"))
    assert elsewhere.take(write_own(saved).encode(), WHO) == saved
    with pytest.raises(PracticeError, match="is here in version 2; the file has version 2"):
        elsewhere.take(write_own(saved).encode(), WHO)
    again = library.copy(made.id, "House, mild", WHO)
    assert (again.version, again.limits, again.id != made.id) == (1, saved.limits, True)
    library.forget(made.id)
    assert [p.name for p in library.all()] == ["House, mild"]


@pytest.mark.parametrize(
    ("limits", "words"),
    [
        ({"stack.installed_height": OwnLimit(low="0.2 mm", high="0.1 mm", reason="mistyped")}, "low end must be below"),
        ({"stack.nothing": OwnLimit(low="1 mm", reason="mistyped")}, "no limit called"),
        ({"stack.installed_height": OwnLimit(low="2 lbf", reason="mistyped")}, "unit of force"),
    ],
)
def test_a_practice_that_contradicts_itself_is_not_kept(
    workshop: Workshop, limits: dict[str, OwnLimit], words: str
) -> None:
    library = PracticeLibrary(workshop.database)
    made = library.copy("balanced", "mine", WHO)
    with pytest.raises(PracticeError, match=words):
        library.save(made.model_copy(update={"limits": limits}), WHO)
    assert library.get(made.id) == made


@pytest.mark.parametrize(
    "data",
    [b"", b"{}", b"\x89PNG", b'{"format": "arc-stack-build"}', b"[" * 5000, b"x" * 300_000,
     b'{"format":"arc-stack-practice","id":"own-12345678","name":"x","based_on":"nobody"}',
     b'{"format":"arc-stack-practice","id":"own-12345678","name":"x","based_on":"balanced","more":1}',
     b'{"format":"arc-stack-practice","id":"own-12345678","name":"a\\u0000b","based_on":"balanced"}'],
    ids=range(9),
)  # fmt: skip
def test_a_file_that_is_no_practice_is_refused_in_words(workshop: Workshop, data: bytes) -> None:
    library = PracticeLibrary(workshop.database)
    with pytest.raises(PracticeError, match=r"\w"):
        library.take(data, WHO)
    assert library.all() == []


def test_a_build_keeps_the_version_it_is_judged_by_and_is_told_of_a_newer(workshop: Workshop) -> None:
    library = PracticeLibrary(workshop.database)
    made = library.copy("balanced", "House", WHO)
    build = SOUND.model_copy(update={"practice": made.id, "practice_version": 1, "own_practice": made})
    build_id = workshop.create(build, WHO)
    saved = library.save(
        made.model_copy(update={"limits": {"stack.retainer_seal": OwnLimit(low="9 mm", reason="to be failed")}}), WHO
    )
    held = workshop.open(build_id).build
    assert judged_by(held).version == 1
    assert assess(held).verdict("stack.retainer_seal", "intake").level is not Level.FAIL
    assert library.newer(held.practice, held.practice_version) == 2
    newer = held.model_copy(update={"practice_version": 2, "own_practice": saved})
    assert assess(newer).verdict("stack.retainer_seal", "intake").level is Level.FAIL
    # kept and fresh agree over the change of practice
    kept, fresh = assess(newer, before=assess(held)), assess(newer)
    assert [(v.key, v.level) for v in kept.verdicts] == [(v.key, v.level) for v in fresh.verdicts]
    # elsewhere, where the practice is not kept, the build is still judged by it
    library.forget(made.id)
    assert judged_by(workshop.open(build_id).build).name == "House"
    assert library.newer(made.id, 1) is None
    assert library.newer("balanced", 1) is None
    assert library.newer("balanced", 0) == practice("balanced").version
