"""A choice about a part is stated by a hand or is not, whatever stands there meanwhile."""

import pytest

from arcstack.application.copying import copied
from arcstack.application.difference import differences, sentences
from arcstack.application.starts import template, templates
from arcstack.document import FIELDS, Build, change, get, silence, stated, unsaid
from arcstack.errors import FieldError
from arcstack.formats import read_build, write_build
from arcstack.formats.shelf_csv import read_shelf, write_shelf
from arcstack.shelf import PartKind
from arcstack.shelf.fitting import fitted as fit_part
from arcstack.shelf.part import blank, changed
from arcstack.trials.packs import exchanged
from arcstack.web.pages.sheet import entered
from tests.builds import quill

ASSUMED = [p for p in FIELDS if FIELDS[p].assumed and p.startswith(("engine.", "intake.stack.", "intake.follower."))]


@pytest.mark.parametrize("path", ASSUMED)
def test_a_hand_states_what_stands_anyway_leaves_it_unsaid_again_and_both_survive_a_file(path: str) -> None:
    empty = Build(name="x")
    assumed = FIELDS[path].assumed
    assert unsaid(empty, path) == assumed == get(empty, path)
    said = change(empty, path, assumed)
    assert unsaid(said, path) == ""
    assert get(said, path) == assumed
    assert read_build(write_build(said)) == said
    assert [(d.before, d.after) for d in differences(empty, said)] == [("", assumed)]
    assert sentences(differences(empty, said))[0].endswith(f"was not said and is {assumed}.")
    other = next(o for o in FIELDS[path].options if o != assumed)
    assert unsaid(change(empty, path, other), path) == ""
    # emptied it is as if nothing had ever been said
    assert change(change(said, path, other), path, "") == empty
    with pytest.raises(FieldError):
        change(empty, path, "sideways")


def test_a_choice_that_says_by_itself_that_nobody_stated_it_is_told_in_its_own_words() -> None:
    empty, path = Build(name="x"), "intake.stack.seal.held"
    assert (silence(empty, path), unsaid(empty, path)) == ("not stated", "")
    assert silence(change(empty, path, "end of the guide"), path) == ""
    assert silence(empty, "engine.follower") == "not said: taken as bucket"
    assert silence(change(empty, "engine.follower", "bucket"), "engine.follower") == ""
    assert silence(empty, "brief.use") == silence(empty, "brief.limiter") == ""


def test_a_document_of_before_has_stated_what_differs_from_what_stood_anyway() -> None:
    old = Build(name="x").model_dump(mode="json")
    old["engine"] |= {"follower": "finger"}
    del old["engine"]["stated"]
    build = Build.model_validate(old)
    assert unsaid(build, "engine.follower") == ""
    assert unsaid(build, "engine.rod_material") == "steel"
    # what is said now keeps what was said then
    build = change(build, "engine.rod_material", "steel")
    assert unsaid(build, "engine.follower") == unsaid(build, "engine.rod_material") == ""
    assert stated(build.engine) == ("follower", "rod_material")


def test_a_pack_takes_what_was_stated_of_it_along_and_a_copy_states_nothing() -> None:
    build = change(quill(), "intake.candidates.1.damping", "flat damper")
    assert unsaid(build, "intake.candidates.1.pack") == "dual"
    swapped = exchanged(build, "intake", 1)
    assert unsaid(swapped, "intake.stack.pack") == "dual"
    assert unsaid(swapped, "intake.stack.damping") == ""
    assert unsaid(swapped, "intake.candidates.1.pack") == unsaid(swapped, "intake.candidates.1.damping") == ""
    copy = copied(quill(), "exhaust", quill().intake, ["springs", "follower"])
    for path in ("stack.pack", "stack.damping", "follower.bucket.materials"):
        assert unsaid(quill(), f"intake.{path}") == ""
        assert unsaid(copy, f"exhaust.{path}") == get(copy, f"exhaust.{path}")


@pytest.mark.parametrize("key", templates())
def test_a_template_assumes_its_choices_but_for_the_follower_that_was_asked_for(key: str) -> None:
    build = template(key)
    assert unsaid(build, "engine.follower") == ""
    for path in (
        "engine.rod_material",
        "intake.stack.pack",
        "exhaust.stack.damping",
        f"intake.follower.{key}.materials",
    ):
        assert unsaid(build, path) == get(build, path), path


def test_a_part_on_the_shelf_states_its_own_and_brings_it_to_the_head_and_through_a_table() -> None:
    silent = blank("0" * 32, PartKind.PACK, "P-1")
    assert silent.said("pack") is None
    said = changed(changed(silent, "pack", "dual"), "damping", "flat damper")
    assert (said.said("pack"), said.said("damping")) == ("dual", "flat damper")
    assert changed(said, "pack", "").said("pack") is None
    for part, pack, damping in ((silent, "dual", "none"), (said, "", "")):
        head = fit_part(Build(name="x"), "intake", part, "pack")
        assert (unsaid(head, "intake.stack.pack"), unsaid(head, "intake.stack.damping")) == (pack, damping)
        back = read_shelf(write_shelf([part]).encode()).parts[0]
        assert (back.said("pack"), back.said("damping")) == (part.said("pack"), part.said("damping"))


def test_the_sheet_prints_what_nobody_stated_as_not_said_and_assumed() -> None:
    def follower(build: Build) -> tuple[str, str]:
        return next((line.text, line.evidence) for line in entered(build, ("engine.follower",)))

    assert follower(Build(name="x")) == ("not said: bucket", "assumed")
    assert follower(change(Build(name="x"), "engine.follower", "bucket")) == ("bucket", "")
