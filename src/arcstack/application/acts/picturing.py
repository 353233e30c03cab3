"""Photographs of a head: kept, marked on a copy, taken out of its list."""

import re

from arcstack.application.acts.acting import act, by_name
from arcstack.application.head import Opened
from arcstack.application.pictures import Taken
from arcstack.document import Sitting
from arcstack.document.words import one_line
from arcstack.errors import FieldError
from arcstack.readings.pictured import SHOTS, Marked, Pictured, PictureOff, pictures
from arcstack.readings.returning import findings, received
from arcstack.readings.taking import place_called
from arcstack.settings import setting
from arcstack.wear.order import look_now

MOST, MOST_RINGS = int(setting("pictures.most_of_head")), int(setting("pictures.most_rings"))
MOST_DOWN, MOST_RING = setting("pictures.most_down"), setting("pictures.most_ring")


def phase_of(head: Opened, stage: str) -> str:
    """When in the work a picture is taken: the look of a teardown, or the stage that is read now."""
    return look_now(head.sheet.events).value if received(head.sheet.events) else stage


def room_for(head: Opened, by: Sitting, count: int) -> None:
    """Raise ``FieldError`` where nothing was chosen, or a head would keep too many."""
    by_name(by, "Whose hand took it?")
    if not count:
        raise FieldError("picture", "Choose a photograph, take one, or drop it here.")
    if len(pictures(head.sheet.events)) + count > MOST:
        raise FieldError("picture", f"A head keeps {MOST} photographs at most.")


def keep(
    head: Opened, by: Sitting, seen: Taken, *, name: str, shot: str, place: str, item: str, finding: int | None,
    stage: str, note: str,
) -> None:  # fmt: skip
    """Keep a photograph whose file is in, tied to a place, an item, a finding."""

    def decided(now: Opened) -> list[Pictured]:
        room_for(now, by, 1)
        at = place_called(now.sheet, place).label if place else ""
        of = finding if finding in {f.number for f in findings(now.sheet.events)} else None
        return [
            Pictured(
                0, seen.sha256, seen.kind, seen.width, seen.height, seen.size, called(name),
                shot if shot in SHOTS else "", at, item if item in now.sheet.items else "", of or 0,
                phase_of(now, stage), by, note,
            )
        ]  # fmt: skip

    act(head, decided)


def called(given: str) -> str:
    """What a file was called, as it is shown: never a path, nothing that cannot be printed.

    >>> called("C:\\\\camera\\\\valve 3.jpg"), called("../..")
    ('valve 3.jpg', '..')
    """
    last = re.split(r"[/\\]", given)[-1]
    return "".join(c for c in last if c.isprintable())[:80] or "picture"


_RING = re.compile(r"\s*(\d{1,3}(?:\.\d+)?)\s+(\d{1,3}(?:\.\d+)?)\s+(\d{1,3}(?:\.\d+)?)\s*(.*)")

Rings = tuple[tuple[tuple[float, float, float], ...], tuple[str, ...]]


def read_rings(text: str) -> Rings:
    """Rings as they are typed, one a line: across, down and size in hundredths of the width, and a word.

    Raises ``FieldError`` for a line that is none.

    >>> read_rings("34 52 6 dents")
    (((0.34, 0.52, 0.06),), ('dents',))
    """
    rings, words = [], []
    for n, line in enumerate((li for li in text.splitlines() if li.strip()), 1):
        found = _RING.fullmatch(line)
        if found is None:
            raise FieldError("rings", f"Line {n} is no ring: across, down and size in hundredths, then a word.")
        x, y, r = (float(t) / 100.0 for t in found.groups()[:3])
        if not (x <= 1.0 and 0.0 < r <= MOST_RING and y <= MOST_DOWN):
            raise FieldError("rings", f"Line {n} lies outside the picture.")
        rings.append((x, y, r))
        words.append(one_line(found[4], 40))
    if len(rings) > MOST_RINGS:
        raise FieldError("rings", f"{MOST_RINGS} rings on one picture are enough.")
    return tuple(rings), tuple(words)


def mark(head: Opened, by: Sitting, *, picture: int, text: str) -> None:
    """Draw rings on a copy: the photograph itself stays as it is."""
    rings, words = read_rings(text)
    act(head, lambda now: [Marked(0, _standing(now, picture), rings, words, by)])


def take_out(head: Opened, by: Sitting, *, picture: int) -> None:
    """Take a photograph out of a head's list; its file stays."""
    act(head, lambda now: [PictureOff(0, _standing(now, picture), by)])


def _standing(head: Opened, picture: int) -> int:
    if picture not in {p.number for p in pictures(head.sheet.events)}:
        raise FieldError("picture", "That photograph was taken out already.")
    return picture
