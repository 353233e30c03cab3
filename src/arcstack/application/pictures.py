"""Photographs kept whole beside the workshop: checked by what they hold, named by their hash, never run."""

import hashlib
import json
import os
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path
from threading import Semaphore

from arcstack.application import looked_at
from arcstack.errors import FieldError
from arcstack.settings import setting
from arcstack.store import own_folder

TYPES = {"jpg": "image/jpeg", "png": "image/png", "webp": "image/webp"}
LARGEST = int(setting("pictures.largest"))
MOST_PIXELS = int(setting("pictures.most_pixels"))
MOST_KEPT = int(setting("pictures.most_kept"))
THUMB = int(setting("pictures.thumb"))
MOST_MEMORY, MOST_S = int(setting("pictures.most_memory")), int(setting("pictures.most_time"))

_ONE_AT_A_TIME = Semaphore(1)
"""However many photographs come at once, one is looked at: the rest of the machine is for the bench."""


@dataclass(frozen=True)
class Taken:
    """A photograph as it was kept: the hash of its bytes, what it is, and its size in pixels and bytes."""

    sha256: str
    kind: str
    width: int
    height: int
    size: int


class Pictures:
    """Photographs of a workshop, in a folder of their own. The store is bounded, and holds each one once."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def keep(self, data: bytes) -> Taken:
        """Keep a photograph whole, with a small copy beside it. Raises ``FieldError`` for what is none, is too large,
        or where the store is full; nothing is kept then."""
        if not data:
            raise FieldError("picture", "The file is empty.")
        if len(data) > LARGEST:
            raise FieldError("picture", f"That is more than {LARGEST / 1e6:.0f} MB. Nothing was stored.")
        if self.kept() + len(data) > MOST_KEPT:
            raise FieldError(
                "picture", f"The store of pictures is full ({MOST_KEPT / 1e9:.0f} GB). Nothing was stored."
            )
        sha = hashlib.sha256(data).hexdigest()
        with tempfile.TemporaryDirectory(prefix="arc-stack-") as folder:
            source = Path(folder) / "source"
            source.write_bytes(data)
            kind, (width, height), _ = _look(source, Path(folder))
            found, path = Taken(sha, kind, width, height, len(data)), self._path(sha, kind)
            if not path.exists():
                own_folder(self.folder)
                own_folder(path.parent)
                _write(self._small(sha), (Path(folder) / SMALL).read_bytes())
                if (shown := Path(folder) / SHOWN).is_file():
                    _write(self._shown(sha, kind), shown.read_bytes())
                _write(path, data)
        return found

    def shown(self, sha256: str, kind: str) -> Path | None:
        """The file that anybody may see: the photograph, or, where it tells the place it was taken at, a copy of it
        that does not. None where it is not here, or can no longer be read."""
        path, shown = self._path(sha256, kind), self._shown(sha256, kind)
        if shown.is_file() or not path.is_file():
            return shown if shown.is_file() else None
        if not looked_at.tells_place_file(path):
            return path
        # kept by a version that did not look for it
        with tempfile.TemporaryDirectory(prefix="arc-stack-") as folder:
            try:
                _look(path, Path(folder))
            except FieldError:
                return None
            _write(shown, (Path(folder) / SHOWN).read_bytes())
        return shown

    def whole(self, sha256: str, kind: str) -> Path | None:
        """The file of a photograph; None where it is not here."""
        path = self._path(sha256, kind)
        return path if path.is_file() else None

    def small(self, sha256: str) -> Path | None:
        """The file of its small copy; None where it is not here."""
        path = self._small(sha256)
        return path if path.is_file() else None

    def kept(self) -> int:
        """Bytes that the store holds."""
        return sum(f.stat().st_size for f in self.folder.rglob("*") if f.is_file()) if self.folder.is_dir() else 0

    def _path(self, sha256: str, kind: str) -> Path:
        if len(sha256) != 64 or not set(sha256) <= set("0123456789abcdef") or kind not in TYPES:
            raise FieldError("picture", "That names no picture.")
        return self.folder / sha256[:2] / f"{sha256}.{kind}"

    def _shown(self, sha256: str, kind: str) -> Path:
        return self._path(sha256, kind).with_name(f"{sha256}.shown.{kind}")

    def _small(self, sha256: str) -> Path:
        return self._path(sha256, "jpg").with_name(f"{sha256}.small.jpg")


SMALL, SHOWN = "small", "shown"


def _look(source: Path, folder: Path) -> tuple[str, tuple[int, int], bool]:
    """What a file holds: its kind, its size in pixels as it is seen, and whether it tells a place; the copies are laid
    into ``folder``. Raises ``FieldError``."""
    refused = FieldError("picture", "That is no photograph: a JPEG, PNG or WebP picture is wanted. Nothing was stored.")
    command = [sys.executable, "-I", looked_at.__file__, str(source), str(folder / SMALL), str(folder / SHOWN)]
    bounds = [str(n) for n in (THUMB, MOST_PIXELS, MOST_MEMORY, MOST_S)]
    with _ONE_AT_A_TIME:
        try:
            told = subprocess.run([*command, *bounds], capture_output=True, timeout=3 * MOST_S, check=True)
            found = json.loads(told.stdout)
        except (subprocess.SubprocessError, ValueError) as error:
            raise FieldError("picture", "It takes too much to be opened. Nothing was stored.") from error
    if "wrong" in found:
        raise FieldError("picture", found["wrong"]) if found["wrong"] else refused
    width, height = found["size"]
    return found["kind"], (width, height), bool(found["place"])


def _write(path: Path, data: bytes) -> None:
    """All of a file or none of it, for its owner alone."""
    handle, name = tempfile.mkstemp(dir=path.parent)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.replace(name, path)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
