"""Parts found by words and by dimension, and put into a build with whatever was read with others told."""

import pytest

from arcstack.application.starts import template
from arcstack.assess import assess
from arcstack.checks import Evidence
from arcstack.demo.loader import demo_shelf
from arcstack.document import FIELDS, Absent, Entry, get
from arcstack.errors import FieldError
from arcstack.shelf import KINDS, PartKind, ShelfPart, blank, changed, fields_of, found, read_query, summary, title_of
from arcstack.shelf.fitting import PLACES, fitted
from arcstack.units import System
from tests.builds import typed

SHELF = {(p.kind, p.name): p for p in demo_shelf()}
BUCKET = template("bucket")


def part(kind: str, name: str) -> ShelfPart:
    return SHELF[PartKind(kind), name]


def names(text: str, system: System = System.MM) -> set[str]:
    return {p.name for p in found(SHELF.values(), read_query(text), system)}


def test_a_dimension_finds_whatever_engine_it_was_made_for() -> None:
    assert names("seal, stem 6.0, guide 11, no taller than 9.5") == {"SL-6 low", "SL-6 std", "SL-6 steel"}
    assert names("seal, stem 6.0, guide 11, no shorter than 9.5") == {"SL-6 tall"}
    assert names("seals, guide 10.5") == {"SL-55", "SL-55 low"}
    assert names("bucket, lighter than") == set()
    assert names("bucket, no heavier than 35 g") == {"K-33", "K-36 light"}
    assert names("bucket, mass under 35") == {"K-33", "K-36 light"}
    assert names("retainer, offset 2.5") == {"R-7 Ti +2.5", "R-7 St +2.5"}
    assert names("retainer titanium, offset 2.5") == {"R-7 Ti +2.5"}
    assert names("shim, thickness at least 1.2") == {"S-127", "S-152"}
    # in inches, and with a unit of its own
    assert names("shim, thickness at least 0.048", System.INCH) == {"S-127", "S-152"}
    assert names('shim, thickness 0.030"') == {"S-076"}
    assert names("valve, head 34.5, no heavier than 40 g") == {"V-6-345 in Ti"}
    assert names("spring pack, outer rate 30") == set()


def test_words_find_name_kind_metal_and_note() -> None:
    assert names("K-36 coated") == {"K-36 coated"}
    assert names("r-7 st") >= {"R-7 St 0.0"}
    assert names("sits deep") == {"L-6 worn pattern"}
    assert names("bronze") == {"G-6 bronze", "G-6 manganese", "G-6 short", "G-55 bronze", "G-7 bronze"}
    assert names("nothing of this kind") == set()
    assert len(names("")) == len(SHELF)
    # what is on hand comes first
    rows = found(SHELF.values(), read_query("bucket"))
    assert [p.on_hand > 0 for p in rows] == sorted((p.on_hand > 0 for p in rows), reverse=True)


def test_a_question_is_said_back_as_it_was_understood() -> None:
    said = read_query("seal, stem 6.0, guide 11, no taller than 9.5").said()
    assert (
        said
        == "seals, stem that the seal fits about 6.0, guide that the seal fits about 11, seal above what holds it at most 9.5"
    )


def test_a_figure_that_is_not_known_is_not_what_was_asked_for() -> None:
    bare = blank("0" * 32, PartKind.SEAL, "S")
    assert found([bare], read_query("seal, no taller than 9.5")) == []
    assert found([bare], read_query("seal")) == [bare]


def test_every_kind_has_titles_for_every_field_and_a_list_that_tells_it() -> None:
    for kind, about in KINDS.items():
        for path in fields_of(kind):
            assert title_of(kind, path)
        for path in about.tells:
            assert path in fields_of(kind)
    assert title_of(PartKind.PACK, "outer.solid") == "Outer spring, solid height"
    for p in SHELF.values():
        assert summary(p), p.name
        assert summary(p, System.INCH), p.name


@pytest.mark.parametrize(
    ("path", "text", "said"),
    [
        ("head", "345 mm", "not between"), ("head", "wide", "no figure"), ("groove", "three", "Choose one of"),
        ("name", " ", "needs a name"), ("on_hand", "-1", "whole number"), ("on_hand", "1.5", "whole number"),
        ("price", "cheap", "no figure"), ("wing", "1", "no such field"), ("second_source", "x" * 81, "at most 80"),
        ("note", "x" * 501, "at most 500"),
    ],
)  # fmt: skip
def test_a_field_says_what_is_wrong(path: str, text: str, said: str) -> None:
    valve = part("valve", "V-6-345 in")
    with pytest.raises(FieldError, match=said) as error:
        changed(valve, path, text)
    assert error.value.path == path


def test_a_field_takes_its_own_unit_and_is_cleared_again() -> None:
    valve = part("valve", "V-6-345 in")
    heavy = changed(valve, "mass", "1.9 oz", Evidence.MEASURED)
    # measured wants an instrument and a hand
    assert heavy.at("mass").evidence is Evidence.ASSUMED
    assert changed(heavy, "mass", "").at("mass") is None
    assert changed(valve, "price", "€ 12,50").price.value == 12.5  # type: ignore[union-attr]
    assert changed(valve, "lead_days", "").lead_days is None
    assert changed(valve, "on_hand", "").on_hand == 0
    assert changed(valve, "groove_offset", "none").at("groove_offset") == Absent(none=True)


def test_each_place_takes_its_own_kind_and_brings_figures_with_their_worth() -> None:
    first = {kind: next(p for p in SHELF.values() if p.kind is kind) for kind in PartKind}
    for place, kind in PLACES.items():
        if kind in (PartKind.FINGER, PartKind.ROCKER):
            continue
        made = fitted(BUCKET, "exhaust", first[kind], place)
        assert made.exhaust.from_shelf[place].name == first[kind].name
        assert made.intake == BUCKET.intake
        other = next(p for p in SHELF.values() if p.kind is not kind)
        with pytest.raises(FieldError, match="does not go there"):
            fitted(BUCKET, "exhaust", other, place)
    retainer = part("retainer", "R-7 Ti +0.5")
    made = fitted(BUCKET, "intake", retainer, "retainer")
    assert made.intake.stack.retainer == retainer.body.model_copy(update={"code": "R-7 Ti +0.5"})
    pack = part("pack", "TS-30")
    made = fitted(BUCKET, "intake", pack, "pack")
    assert (made.intake.stack.name, made.intake.stack.price) == ("TS-30", pack.price)
    assert made.intake.stack.outer == pack.at("outer")
    assert made.intake.stack.coil_damping == BUCKET.intake.stack.coil_damping
    shims = fitted(fitted(BUCKET, "intake", part("shim", "S-025"), "shim 2"), "intake", part("shim", "S-051"), "shim 1")
    assert [s.value for s in shims.intake.stack.shims] == [0.51, 0.25]  # type: ignore[union-attr]
    assert shims.intake.stack.rings.outside.value == 28.6  # type: ignore[union-attr]
    light = fitted(BUCKET, "intake", part("bucket", "K-36 light"), "bucket")
    assert light.intake.follower.bucket.mass.value == pytest.approx(0.031)  # type: ignore[union-attr]
    # where the lobe stands over its bucket is the head's, not the bucket's
    assert light.intake.follower.bucket.offset == BUCKET.intake.follower.bucket.offset
    capped = fitted(BUCKET, "intake", part("cap", "C-6"), "cap")
    assert get(capped, "intake.stack.cap.depth").typed == "1.4 mm"
    assert get(capped, "intake.follower.shim_mass").typed == "2.6 g"
    with pytest.raises(FieldError, match="bucket"):
        fitted(BUCKET, "intake", part("finger", "F-40"), "finger")


def test_a_height_read_as_fitted_follows_what_is_known_and_is_told_of_what_is_not() -> None:
    known = typed(BUCKET, {f"intake.stack.{p}": "none" for p in ("retainer.offset", "locks.offset")})

    def height(kind: str, name: str, place: str) -> Entry:
        entry = fitted(known, "intake", part(kind, name), place).intake.stack.open_height
        assert entry is not None
        return entry

    at = known.intake.stack.open_height
    assert at is not None
    assert height("retainer", "R-7 Ti +2.5", "retainer").value == pytest.approx(at.value + 2.5)
    assert height("locks", "L-6 −1.2", "locks").value == pytest.approx(at.value - 1.2)
    assert height("locator", "B-15s", "locator").value == pytest.approx(at.value + 0.9 - 1.5)
    # locks that are small over the top sink by 0.1/(2·tan 5°)
    assert height("locks", "L-6 worn pattern", "locks").value == pytest.approx(at.value + 0.5715, abs=1e-4)
    assert height("retainer", "R-7 Ti +2.5", "retainer").evidence is Evidence.CALCULATED
    another = height("retainer", "R-7 Ti 0.0", "retainer")
    assert (another.value, another.evidence) == (at.value, Evidence.CALCULATED)  # alike, and another retainer
    vague = changed(part("retainer", "R-7 Ti +2.5"), "offset", "")
    told = fitted(known, "intake", vague, "retainer").intake.stack.open_height
    assert told is not None
    assert told.outdated == "R-7 Ti +2.5 fitted since it was read"
    # its depth is known with one pair of locks only: the height is to be read again
    unsized = changed(part("locks", "L-6 0.0"), "outside", "")
    told = fitted(known, "intake", unsized, "locks").intake.stack.open_height
    assert told is not None
    assert told.outdated == "L-6 0.0 fitted since it was read"
    bare = typed(known, {"intake.stack.height_basis": "bare"})
    stands = bare.intake.stack.open_height
    assert fitted(bare, "intake", part("retainer", "R-7 Ti +2.5"), "retainer").intake.stack.open_height == stands


def test_a_seal_that_tells_its_own_height_takes_the_place_of_the_one_read() -> None:
    seal = part("seal", "SL-6 low")
    told = fitted(BUCKET, "intake", seal, "seal").intake.stack.seal_height
    assert told is not None
    assert "SL-6 low fitted" in told.outdated
    made = fitted(fitted(BUCKET, "intake", part("guide", "G-6 bronze"), "guide"), "intake", seal, "seal")
    assert made.intake.stack.seal_height is None
    figure = assess(made).verdict("stack.retainer_seal", "intake").figure
    assert figure is not None
    tall = fitted(made, "intake", changed(seal, "height", "9.2 mm"), "seal")
    other = assess(tall).verdict("stack.retainer_seal", "intake").figure
    assert other is not None
    assert figure.value - other.value == pytest.approx(2.0)


def test_every_field_of_the_parts_of_a_stack_has_a_kind_that_brings_it() -> None:
    left = {"open_height", "height_basis", "target_height", "seal_height", "tip_proud", "usual_load", "seat_stiffness",
            "seat_damping", "coil_damping", "pocket"}  # fmt: skip
    brought = {"valve", "retainer", "locks", "locator", "guide", "seal", "rings", "cap", "shims"}
    brought |= {p.split(".")[0] for p in fields_of(PartKind.PACK)}
    of_stack = {p.split(".")[2] for p in FIELDS if p.startswith("intake.stack.")}
    assert of_stack - brought == left
