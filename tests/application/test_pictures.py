"""Photographs: what is taken in, what is refused, that each is kept whole and once."""

import hashlib
import io
import subprocess
import sys
from pathlib import Path

import pytest
from PIL import Image

from arcstack.application import pictures
from arcstack.application.pictures import Pictures
from arcstack.errors import FieldError
from tests.application.pictured import picture


@pytest.fixture
def store(tmp_path: Path) -> Pictures:
    return Pictures(tmp_path / "pictures")


@pytest.mark.parametrize(("kind", "end"), [("JPEG", "jpg"), ("PNG", "png"), ("WEBP", "webp")])
def test_a_photograph_is_kept_byte_for_byte_under_its_hash_with_a_small_copy(
    store: Pictures, kind: str, end: str
) -> None:
    data = picture(kind, (1200, 800))
    taken = store.keep(data)
    assert (taken.kind, taken.width, taken.height, taken.size) == (end, 1200, 800, len(data))
    assert taken.sha256 == hashlib.sha256(data).hexdigest()
    path, small = store.whole(taken.sha256, taken.kind), store.small(taken.sha256)
    assert path is not None
    assert small is not None
    assert path.read_bytes() == data
    assert max(Image.open(small).size) == pictures.THUMB
    assert path.stat().st_mode & 0o077 == 0


def test_one_that_is_there_already_is_kept_once(store: Pictures) -> None:
    data = picture()
    assert store.keep(data) == store.keep(data)
    assert sum(f.is_file() for f in store.folder.rglob("*")) == 2


def test_a_picture_held_upright_is_shown_upright(store: Pictures) -> None:
    taken = store.keep(picture(size=(800, 600), turned=6))
    assert (taken.width, taken.height) == (600, 800)
    small = store.small(taken.sha256)
    assert small is not None
    assert Image.open(small).size == (360, 480)


@pytest.mark.parametrize(
    "data",
    [b"", b"not a picture", b"<svg xmlns='http://www.w3.org/2000/svg'><script>1</script></svg>", b"\xff\xd8\xff\xe0cut",
     b"%PDF-1.7", b"GIF89a\x01\x00\x01\x00\x00\x00\x00;", picture()[:400], b"PK\x03\x04" + b"\0" * 60],
    ids=["empty", "text", "svg", "cut head", "pdf", "gif", "cut short", "zip"],
)  # fmt: skip
def test_what_is_no_photograph_is_refused_and_nothing_is_stored(store: Pictures, data: bytes) -> None:
    with pytest.raises(FieldError, match=r"no photograph|is empty"):
        store.keep(data)
    assert not store.folder.exists()


def test_too_many_bytes_too_many_pixels_and_a_full_store_are_refused(
    store: Pictures, monkeypatch: pytest.MonkeyPatch
) -> None:
    with pytest.raises(FieldError, match="more than 25 MB"):
        store.keep(b"\xff\xd8" + b"\0" * pictures.LARGEST)
    big = io.BytesIO()
    Image.new("1", (12000, 7000)).save(big, "PNG")
    with pytest.raises(FieldError, match=r"12000 × 7000 pixels|no photograph"):
        store.keep(big.getvalue())
    monkeypatch.setattr(pictures, "MOST_KEPT", 5_000)
    store.keep(picture(size=(64, 48)))
    with pytest.raises(FieldError, match="store of pictures is full"):
        store.keep(picture(size=(2000, 1500)))


@pytest.mark.parametrize(
    ("sha", "kind"), [("../../etc/passwd", "jpg"), ("a" * 63, "jpg"), ("A" * 64, "jpg"), ("a" * 64, "exe")]
)
def test_a_name_that_is_no_hash_reaches_no_file(store: Pictures, sha: str, kind: str) -> None:
    with pytest.raises(FieldError):
        store.whole(sha, kind)
    assert store.whole("a" * 64, "jpg") is None


def test_a_write_that_fails_leaves_nothing_half_written(store: Pictures, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(_handle: int) -> None:
        raise OSError("no room left")

    monkeypatch.setattr("arcstack.application.pictures.os.fsync", broken)
    with pytest.raises(OSError, match="no room left"):
        store.keep(picture())
    assert not any(f.is_file() for f in store.folder.rglob("*"))


def _placed(kind: str) -> bytes:
    """A picture that tells where it was taken, held upright."""
    image, out, exif = Image.new("RGB", (640, 480), (90, 92, 95)), io.BytesIO(), Image.Exif()
    exif[274] = 6
    exif.get_ifd(0x8825)[2] = (48.0, 12.0, 30.5)
    exif[0x8825] = exif.get_ifd(0x8825)
    image.save(out, kind, exif=exif)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_what_anybody_sees_does_not_tell_the_place_and_what_is_kept_does(store: Pictures, kind: str) -> None:
    data = _placed(kind)
    assert Image.open(io.BytesIO(data)).getexif().get_ifd(0x8825)
    taken = store.keep(data)
    kept, shown = store.whole(taken.sha256, taken.kind), store.shown(taken.sha256, taken.kind)
    assert kept is not None
    assert shown is not None
    assert kept.read_bytes() == data
    seen = Image.open(shown)
    assert not seen.getexif().get_ifd(0x8825)
    assert seen.getexif()[274] == 6
    assert seen.size == (640, 480)
    small = store.small(taken.sha256)
    assert small is not None
    assert not Image.open(small).getexif()


def test_one_that_was_kept_before_places_were_looked_for_is_shown_without(store: Pictures) -> None:
    taken = store.keep(_placed("JPEG"))
    first = store.shown(taken.sha256, taken.kind)
    assert first is not None
    first.unlink()
    again = store.shown(taken.sha256, taken.kind)
    assert again is not None
    assert not Image.open(again).getexif().get_ifd(0x8825)
    # a file that can no longer be read is shown to nobody
    again.unlink()
    kept = store.whole(taken.sha256, taken.kind)
    assert kept is not None
    kept.write_bytes(b"\xff\xd8broken")
    assert store.shown(taken.sha256, taken.kind) is None


def test_one_that_tells_no_place_is_shown_as_it_is(store: Pictures) -> None:
    taken = store.keep(picture())
    assert store.shown(taken.sha256, taken.kind) == store.whole(taken.sha256, taken.kind)
    assert store.shown("a" * 64, "jpg") is None


def test_a_picture_of_79_million_pixels_takes_its_memory_elsewhere(tmp_path: Path) -> None:
    big = tmp_path / "big.png"
    Image.new("1", (8900, 8900)).save(big, "PNG")
    code = (
        "import resource, sys; from pathlib import Path; from arcstack.application.pictures import Pictures\n"
        "peak = lambda: resource.getrusage(resource.RUSAGE_SELF).ru_maxrss\n"
        "before = peak(); taken = Pictures(Path(sys.argv[2])).keep(Path(sys.argv[1]).read_bytes())\n"
        "print(taken.width, taken.height, peak() - before)"
    )
    told = subprocess.run(
        [sys.executable, "-c", code, str(big), str(tmp_path / "kept")], capture_output=True, text=True, check=True
    )
    width, height, more = map(int, told.stdout.split())
    assert (width, height) == (8900, 8900)
    # kilobytes: decoded in this process it would be 79,000 to 240,000
    assert more < 30_000


def test_one_that_takes_too_much_to_open_is_refused(store: Pictures, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(pictures, "MOST_MEMORY", 60_000_000)
    with pytest.raises(FieldError, match=r"takes too much|no photograph"):
        store.keep(picture("PNG", size=(6000, 4000)))
    assert not store.folder.exists()
