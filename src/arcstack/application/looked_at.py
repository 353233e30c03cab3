"""One photograph looked at in a process of its own: what it is, a small copy, and a copy without the place it was
taken at. Run by its path, so that it loads nothing but the picture library; its memory goes when it ends."""

import json
import os
import sys
import warnings
from contextlib import suppress
from pathlib import Path
from typing import Any

from PIL import Image, ImageOps

KINDS = {"JPEG": "jpg", "PNG": "png", "WEBP": "webp"}
ORIENTATION, PLACE = 0x0112, 0x8825
CARRIES = ("xmp", "XML:com.adobe.xmp", "photoshop", "comment", "Raw profile type exif", "Raw profile type xmp")
"""Blocks beside the pixels that can tell a place as well as the table of the camera's own."""


def tells_place(image: Image.Image) -> bool:
    """Whether a picture says where it was taken, or carries a block that may."""
    return PLACE in image.getexif() or any(name in image.info for name in CARRIES)


def tells_place_file(path: Path) -> bool:
    """As ``tells_place``, of a file: only what stands before its pixels is read. What cannot be read tells all."""
    try:
        with Image.open(path, formats=list(KINDS)) as image:
            return tells_place(image)
    except Exception:  # whatever a broken picture makes the library raise
        return True


def _bounded(most_bytes: int, most_s: int) -> None:
    """Past these the process ends, and with it all that it took."""
    with suppress(ImportError, ValueError, OSError):
        import resource

        resource.setrlimit(resource.RLIMIT_AS, (most_bytes, most_bytes))
        resource.setrlimit(resource.RLIMIT_CPU, (most_s, most_s))
    with suppress(OSError, AttributeError):
        os.nice(10)


def _look(source: str, small: str, shown: str, thumb: int, most_pixels: int) -> dict[str, Any]:
    warnings.simplefilter("error", Image.DecompressionBombWarning)
    Image.MAX_IMAGE_PIXELS = most_pixels
    with Image.open(source, formats=list(KINDS)) as image:
        kind, (width, height) = image.format or "", image.size
        if width * height > most_pixels:
            return {"wrong": f"{width} × {height} pixels are more than a photograph has."}
        turned = image.getexif().get(ORIENTATION, 1) in (5, 6, 7, 8)
        place = tells_place(image)
        # a JPEG is read at an eighth of its size where that is enough
        image.draft("RGB", (thumb, thumb))
        image.thumbnail((thumb, thumb))
        ImageOps.exif_transpose(image).convert("RGB").save(small, "JPEG", quality=82)
    if place:
        _without_place(source, shown)
    return {"kind": KINDS[kind], "size": [height, width] if turned else [width, height], "place": place}


def _without_place(source: str, shown: str) -> None:
    with Image.open(source, formats=list(KINDS)) as image:
        kind, kept = image.format or "", Image.Exif()
        kept[ORIENTATION] = image.getexif().get(ORIENTATION, 1)
        more: dict[str, Any] = {"quality": "keep"} if kind == "JPEG" else {"quality": 92} if kind == "WEBP" else {}
        profile = image.info.get("icc_profile")
        for name in CARRIES:
            image.info.pop(name, None)
        image.save(shown, kind, exif=kept, icc_profile=profile, **more)


def main(source: str, small: str, shown: str, thumb: str, most_pixels: str, most_bytes: str, most_s: str) -> None:
    """Print what was found as JSON; ``wrong`` is empty words for what is no photograph."""
    _bounded(int(most_bytes), int(most_s))
    try:
        found = _look(source, small, shown, int(thumb), int(most_pixels))
    except Image.DecompressionBombError:
        found = {"wrong": "It has more pixels than a photograph has."}
    except Exception:  # whatever a broken picture makes the library raise
        found = {"wrong": ""}
    print(json.dumps(found))


if __name__ == "__main__":
    main(*sys.argv[1:])
