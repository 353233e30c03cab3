"""How a build stands, in a few words for the list of builds; kept with it, as working it out takes longer."""

import json
from dataclasses import asdict, dataclass

from arcstack import __version__
from arcstack.assess import Assessment
from arcstack.checks import Level, Verdict
from arcstack.document import SIDES

OPEN_YET = "nothing is known yet"


@dataclass(frozen=True)
class Standing:
    """A build at a revision: the worst of its verdicts, how many of how many are known and proven, and what is next.

    ``done`` counts stages of which every verdict is known and none fails. ``path`` is the field that comes next, or an
    empty text where a verdict of ``stage`` and ``side`` does. ``partial`` is True while long work behind it is open.
    """

    revision: int
    worst: str
    known: int
    judged: int
    proven: int
    done: int
    stages: int
    next: str
    stage: str
    side: str
    path: str
    partial: bool = False
    program: str = __version__

    @property
    def level(self) -> Level:
        return Level(self.worst)

    @property
    def place(self) -> int:
        """The worst verdict's place among levels, for sorting; what is hardly known comes last."""
        return -1 if self.known == 0 else self.level.severity


def standing(assessment: Assessment, revision: int) -> Standing:
    """How a build stands by its verdicts on both sides."""
    judging = [v for v in assessment.verdicts if v.judges]
    known = [v for v in judging if v.figure is not None or v.level is Level.FAIL]
    by_stage: dict[str, list[Verdict]] = {}
    for v in judging:
        by_stage.setdefault(v.stage, []).append(v)
    ended = (Level.OPEN, Level.FAIL)
    done = sum(all(v.level not in ended or v.waiting for v in rows) for rows in by_stage.values())
    worst = max((v.level for v in known), key=lambda lv: lv.severity, default=Level.OPEN)
    if worst is Level.CLEAR and len(known) < len(judging):
        worst = Level.OPEN
    said, stage, side, path = _next(judging)
    return Standing(
        revision, worst.value, len(known), len(judging), sum(v.proven for v in known), done, len(by_stage), said, stage,
        side, path, assessment.waiting,
    )  # fmt: skip


def _next(judging: list[Verdict]) -> tuple[str, str, str, str]:
    """What a builder would look at next, and where: first what fails, then what is missing, tight, on paper."""
    failing = [v for v in judging if v.level is Level.FAIL]
    if failing:
        v = min(failing, key=lambda v: v.room if v.room is not None else 0.0)
        more = f", {len(failing) - 1} more" if len(failing) > 1 else ""
        return f"{v.title} fails, {v.side}{more}", v.stage, v.side or SIDES[0], ""
    wanted: dict[tuple[str, str, str], int] = {}
    for v in judging:
        for m in v.missing:
            key = (m.path, m.label, v.side or SIDES[0])
            wanted[key] = wanted.get(key, 0) + 1
    if wanted:
        path, label, side = max(wanted, key=lambda k: wanted[k])
        whose = f", {path.split('.')[0]}" if path.split(".")[0] in SIDES else ""
        return f"enter {label.lower()}{whose}", "", side, path
    for level, said in ((Level.WAIVED, "stands by a loosened limit"), (Level.TIGHT, "is tight")):
        tight = [v for v in judging if v.level is level]
        if tight:
            v = min(tight, key=lambda v: v.room if v.room is not None else 0.0)
            return f"{v.title} {said}, {v.side}", v.stage, v.side or SIDES[0], ""
    paper = [v for v in judging if not v.proven]
    if paper:
        return f"prove {paper[0].title.lower()}, {paper[0].side}", paper[0].stage, paper[0].side or SIDES[0], ""
    return "everything clear and proven", "", SIDES[0], ""


def written(found: Standing) -> str:
    return json.dumps(asdict(found), ensure_ascii=False, separators=(",", ":"))


def read(text: str | None, revision: int) -> Standing | None:
    """What was kept of a build, None where it is of another revision or of another version of the program."""
    if not text:
        return None
    try:
        found = Standing(**json.loads(text))
    except (ValueError, TypeError):
        return None
    return found if (found.revision, found.program) == (revision, __version__) else None
