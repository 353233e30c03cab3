"""One head of a backup brought back beside what stands: its document, its readings and its photographs."""

import json
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory

from arcstack.application.backups.copies import FILE, MANIFEST, PICTURES, looked_through, opened, put_file, whole
from arcstack.application.bench import Bench
from arcstack.application.head import find
from arcstack.application.workshop import Who, Workshop
from arcstack.document import Sitting
from arcstack.errors import StoreError
from arcstack.readings.brought import document_by_file
from arcstack.readings.pictured import pictures as pictured
from arcstack.store import Database, Kind, Reason, own_folder
from arcstack.store.trouble import worded


@dataclass(frozen=True)
class Back:
    """A head that was brought back: under which number, with how many readings and photographs."""

    id: int
    name: str
    readings: int
    pictures: int


def restore_head(source: Path, data: Path, name: str, who: Who) -> Back:
    """Bring back the head that has a name, or a number, in a backup: as a build of its own, so that what stands is left
    as it is. Its hands are told as told by a file, and its signature signs nothing here.

    Raises ``StoreError``, and ``NotFound`` where there is no such head in it, or more than one of that name.
    """
    with worded(data), opened(source) as folder, TemporaryDirectory(prefix="arc-stack-") as aside:
        wrong = looked_through(folder)
        if wrong:
            raise StoreError(f"{source.name} is not good: {wrong}. Nothing was changed.")
        told = json.loads((folder / MANIFEST).read_text("utf-8"))
        pictures = folder / PICTURES if (folder / PICTURES).is_dir() else source.parent / PICTURES
        # a copy: an earlier version's is brought up to date, and the backup stays as it is
        put_file(folder / FILE, Path(aside) / FILE)
        there = Database.open(Path(aside) / FILE)
        here = Database.open(data / FILE)
        try:
            row = find(there, name)
            build = document_by_file(Workshop(there).exported(row.id))
            sheet = Bench(there).sheet(row.id, build)
            by = Sitting(hand=who.name, at=who.now())
            at = f"backup of {told['at'][:16]}"
            with here.session(writes=True) as unit:
                number = Workshop(here).add(unit, build, who, Reason(Kind.IMPORTED, after=at))
                Bench(here).brought(unit, number, sheet.readings, sheet.events, at, by)
            kept = 0
            for p in pictured(sheet.events):
                names = [f"{p.sha256[:2]}/{p.sha256}.{p.format}", f"{p.sha256[:2]}/{p.sha256}.small.jpg"]
                for file in names:
                    target = data / PICTURES / file
                    if whole(pictures / file, told.get("sums", {}), file) and not target.is_file():
                        own_folder(target.parent)
                        put_file(pictures / file, target)
                kept += (data / PICTURES / names[0]).is_file()
        finally:
            there.engine.dispose()
            here.engine.dispose()
        return Back(number, build.name, len(sheet.readings), kept)
