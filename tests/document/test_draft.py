from arcstack.demo import demo_builds
from arcstack.document import get, put
from arcstack.document.draft import Draft
from arcstack.document.parts import HeightBasis


def test_many_put_at_once_are_the_same_as_one_by_one():
    build = demo_builds()[0]
    shims = build.intake.stack.shims
    rows = [
        ("intake.stack.open_height", get(build, "exhaust.stack.open_height")),
        ("intake.stack.height_basis", HeightBasis.AS_FITTED),
        ("intake.stack.shims", (*shims, *shims)),
        ("intake.stack.outer.load_1", None),
        ("exhaust.bench.place", "1E-a"),
        ("name", "Another"),
        ("intake.stack.open_height", None),
    ]
    draft, one_by_one = Draft(build), build
    for path, value in rows:
        draft.put(path, value)
        one_by_one = put(one_by_one, path, value)
    assert draft.done() == one_by_one != build


def test_what_is_not_touched_is_the_very_same():
    build = demo_builds()[0]
    draft = Draft(build)
    assert draft.done() is build
    draft.put("intake.bench.place", "1I-a")
    made = draft.done()
    assert made.exhaust is build.exhaust
    assert made.intake.stack is build.intake.stack
    assert build.intake.bench.place == ""


def test_a_draft_tells_what_was_put_and_else_what_stands():
    build = demo_builds()[0]
    draft = Draft(build)
    assert draft.get("intake.stack.open_height") == build.intake.stack.open_height
    draft.put("intake.stack.open_height", None)
    assert draft.get("intake.stack.open_height") is None
