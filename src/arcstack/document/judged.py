from arcstack.document.model import Build
from arcstack.practice import Practice, practice


def judged_by(build: Build) -> Practice:
    """The practice that a build is judged by, in the version it was chosen in.

    Raises ``PracticeError`` for one that does not exist, or that is unsound.

    >>> judged_by(Build(name="x")).name
    'Balanced'
    """
    if build.own_practice is not None and build.own_practice.id == build.practice:
        return build.own_practice.whole()
    return practice(build.practice, build.practice_version)
