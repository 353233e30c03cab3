"""Made-up photographs for tests."""

import io

from PIL import Image


def picture(kind: str = "JPEG", size: tuple[int, int] = (640, 480), turned: int = 1) -> bytes:
    """A grey picture with a lighter middle, of a size; ``turned`` is the way a camera held it, 6 for upright."""
    image = Image.new("RGB", size, (90, 92, 95))
    image.paste((200, 190, 170), (size[0] // 4, size[1] // 4, size[0] // 2, size[1] // 2))
    out = io.BytesIO()
    exif = Image.Exif()
    exif[274] = turned
    image.save(out, kind, **({"exif": exif} if kind == "JPEG" else {}))
    return out.getvalue()
