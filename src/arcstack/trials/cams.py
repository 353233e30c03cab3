"""Other cams on the same head, each in place of the present one."""

from dataclasses import dataclass

from arcstack.assess import Assessment, assess
from arcstack.assess.context import Context
from arcstack.document import set_cam
from arcstack.document.parts import Cam


@dataclass(frozen=True)
class TriedCam:
    """A cam tried on the head."""

    name: str
    assessment: Assessment
    side: str

    @property
    def ctx(self) -> Context:
        return self.assessment.sides[self.side]


def tried(now: Assessment, side: str, cams: list[tuple[str, Cam]]) -> list[TriedCam]:
    """The present cam and each other one, by its name, in its place."""
    present = now.build.side(side).cam.code or "present cam"
    rows = [TriedCam(f"now: {present}", now, side)]
    return rows + [TriedCam(name, assess(set_cam(now.build, side, cam), before=now), side) for name, cam in cams]
