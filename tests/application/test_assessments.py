from arcstack.application import Assessments, Sweeps
from arcstack.assess import assess
from arcstack.demo import demo_builds
from tests.builds import sorrel

CURVE = "arcstack.assess.cam.curve"


def test_a_head_met_first_takes_over_what_the_last_one_has_alike_and_nothing_that_was_tried_of_it() -> None:
    kept, build = Assessments(Sweeps()), demo_builds()[0]
    first = kept.of(1, build)
    first.sides["intake"].aside["tried"] = first.sides["intake"], []
    twin = kept.of(2, build.model_copy(update={"name": "Its twin"}))
    assert twin.sides["intake"].memo[CURVE] is first.sides["intake"].memo[CURVE]
    assert twin.verdicts == first.verdicts
    assert not twin.sides["intake"].aside
    assert first.sides["intake"].aside
    other = kept.of(3, sorrel())
    assert other.verdicts == assess(sorrel()).verdicts
    assert other.sides["intake"].memo[CURVE] is not first.sides["intake"].memo[CURVE]


def test_a_head_at_hand_is_taken_over_from_itself_with_what_was_tried() -> None:
    kept, build = Assessments(Sweeps()), demo_builds()[0]
    first = kept.of(1, build)
    first.sides["intake"].aside["tried"] = first.sides["intake"], []
    kept.of(2, sorrel())
    again = kept.of(1, build.model_copy(update={"note": "another"}))
    assert again.sides["intake"].memo[CURVE] is first.sides["intake"].memo[CURVE]
    assert "tried" in again.sides["intake"].aside
