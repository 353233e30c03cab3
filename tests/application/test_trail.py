"""The trail: only ever added to, read, taken out as a table, pruned with a note."""

from datetime import datetime, timedelta
from pathlib import Path

import pytest

from arcstack.application import Who
from arcstack.application.trail import LEAST_DAYS, Trail
from arcstack.errors import FieldError
from arcstack.store import Database

NOW = datetime(2026, 3, 1, 8, 30)


def test_lines_are_added_read_and_pruned_with_a_note(tmp_path: Path) -> None:
    trail = Trail(Database.open(tmp_path / "workshop.sqlite"))
    for days, act in ((400, "signed in"), (200, "import"), (1, "signature")):
        trail.note(Who("Ilse", lambda days=days: NOW - timedelta(days=days)), act, "=1+1", "10.0.0.2")
    assert [r.act for r in trail.page().rows] == ["signature", "import", "signed in"]
    table = trail.csv().splitlines()
    assert table[0] == "at,who,act,about,address"
    assert table[1] == "2026-02-28T08:30:00Z,Ilse,signature,'=1+1,10.0.0.2"
    with pytest.raises(FieldError, match=f"{LEAST_DAYS} days at least"):
        trail.prune(LEAST_DAYS - 1, Who("Ilse", lambda: NOW))
    assert trail.prune(300, Who("Ilse", lambda: NOW)) == 1
    assert next((r.act, r.about) for r in trail.page().rows) == ("trail pruned", "1 lines older than 300 days")
    assert len(trail.page().rows) == 3
