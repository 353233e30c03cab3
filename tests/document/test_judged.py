import pytest

from arcstack.document import Build, judged_by
from arcstack.errors import PracticeError
from arcstack.practice import OwnPractice, loader, practice

OWN = OwnPractice(id="own-0123abcd", name="House", based_on="sprint")


def test_a_build_is_judged_by_the_practice_that_it_carries_where_it_names_it() -> None:
    own = Build(name="x", practice=OWN.id, own_practice=OWN)
    assert judged_by(own).name == "House"
    assert judged_by(own).limits == practice("sprint").limits
    # one that is carried but not chosen judges nothing
    assert judged_by(Build(name="x", practice="balanced", own_practice=OWN)).name == "Balanced"
    with pytest.raises(PracticeError, match="no practice called"):
        judged_by(Build(name="x", practice="own-ffffffff", own_practice=OWN))


def test_a_shipped_practice_judges_in_the_version_it_was_chosen_in(monkeypatch: pytest.MonkeyPatch) -> None:
    texts = dict(loader._texts())
    now = texts["balanced", 1]
    texts["balanced", 2] = now.replace("version = 1", "version = 2", 1).replace('low = "1.3 mm"', 'low = "1.4 mm"')
    monkeypatch.setattr(loader, "_texts", lambda: texts)
    for cached in (loader.practice, loader.practices):
        cached.cache_clear()
    try:
        build = Build(name="x", practice_version=1)
        assert judged_by(build).limits["stack.retainer_seal"].low == 1.3
        newer = build.model_copy(update={"practice_version": 2})
        assert judged_by(newer).limits["stack.retainer_seal"].low == 1.4
        assert [p.version for p in loader.practices() if p.id == "balanced"] == [2]
        # a version that is not shipped any more is judged by the newest
        assert judged_by(build.model_copy(update={"practice_version": 7})).version == 2
    finally:
        for cached in (loader.practice, loader.practices):
            cached.cache_clear()


def test_an_own_practice_stands_on_the_version_it_was_copied_from() -> None:
    assert OWN.whole().schools == practice("sprint").schools
    with pytest.raises(PracticeError, match="no practice called"):
        OWN.model_copy(update={"based_on": "nobody"}).whole()
