"""Photographs kept whole beside the workshop: checked by what they hold, named by their hash, never run."""

import hashlib
import io
import os
import tempfile
import warnings
from dataclasses import dataclass
from pathlib import Path

from PIL import Image, ImageOps

from arcstack.errors import FieldError
from arcstack.settings import setting
from arcstack.store import own_folder

KINDS = {"JPEG": "jpg", "PNG": "png", "WEBP": "webp"}
TYPES = {"jpg": "image/jpeg", "png": "image/png", "webp": "image/webp"}
LARGEST = int(setting("pictures.largest"))
MOST_PIXELS = int(setting("pictures.most_pixels"))
MOST_KEPT = int(setting("pictures.most_kept"))
THUMB = int(setting("pictures.thumb"))


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
        kind, (width, height), small = _looked_at(data)
        sha = hashlib.sha256(data).hexdigest()
        found = Taken(sha, kind, width, height, len(data))
        path = self._path(sha, kind)
        if path.exists():
            return found
        if self.kept() + len(data) > MOST_KEPT:
            raise FieldError(
                "picture", f"The store of pictures is full ({MOST_KEPT / 1e9:.0f} GB). Nothing was stored."
            )
        own_folder(self.folder)
        own_folder(path.parent)
        _write(self._small(sha), small)
        _write(path, data)
        return found

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

    def _small(self, sha256: str) -> Path:
        return self._path(sha256, "jpg").with_name(f"{sha256}.small.jpg")


def _looked_at(data: bytes) -> tuple[str, tuple[int, int], bytes]:
    """What a file holds, by its content: its kind, its size in pixels, and a small copy of it."""
    if not data:
        raise FieldError("picture", "The file is empty.")
    if len(data) > LARGEST:
        raise FieldError("picture", f"That is more than {LARGEST / 1e6:.0f} MB. Nothing was stored.")
    refused = FieldError("picture", "That is no photograph: a JPEG, PNG or WebP picture is wanted. Nothing was stored.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=list(KINDS)) as image:
                kind, size = KINDS[image.format or ""], image.size
                if size[0] * size[1] > MOST_PIXELS:
                    raise FieldError("picture", f"{size[0]} × {size[1]} pixels are more than a photograph has.")
                upright = ImageOps.exif_transpose(image)
                size = upright.size
                upright.thumbnail((THUMB, THUMB))
                out = io.BytesIO()
                upright.convert("RGB").save(out, "JPEG", quality=82)
    except FieldError:
        raise
    except Exception as error:  # whatever a broken picture makes the library raise
        raise refused from error
    return kind, size, out.getvalue()


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
