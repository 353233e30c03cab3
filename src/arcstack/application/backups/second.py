"""A second folder for backups, on another disk or a share: one file each, sealed with a passphrase where one is set."""

import json
import zipfile
import zlib
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from tempfile import TemporaryDirectory

import pyrage

from arcstack.application.backups.copies import FILE, MANIFEST, STAMP, Backup, put_bytes, put_file, zipped
from arcstack.errors import StoreError
from arcstack.settings import setting
from arcstack.store.trouble import worded

KEEPS = int(setting("backups.second_keeps"))
NAMED, SEALED, SEALED_ALONG = "second-folder.json", ".age", ".sealed.zip"
KEY = "key.age"
"""Beside the sealed files: what opens them, itself sealed with the passphrase. Without both none can be read."""


@dataclass(frozen=True)
class Second:
    """Where the second folder is, and for whom its files are sealed (empty for open ones)."""

    folder: Path
    recipient: str = ""


class SecondFolder:
    """What is put beside each backup of a workshop, where its owner named a second folder."""

    def __init__(self, data: Path) -> None:
        self.data = data
        self.trouble = ""

    def named(self) -> Second | None:
        """The folder that was named; None where none was."""
        try:
            told = json.loads((self.data / NAMED).read_text("utf-8"))
            return Second(Path(told["folder"]), str(told.get("recipient", "")))
        except (OSError, ValueError, KeyError, TypeError):
            return None

    def name(self, folder: Path, passphrase: str) -> None:
        """Name it; with a passphrase, each file is sealed, and only that opens it. Raises ``StoreError``."""
        with worded(folder / KEY):
            folder.mkdir(parents=True, exist_ok=True)
            recipient = ""
            if passphrase:
                own = pyrage.x25519.Identity.generate()
                recipient = str(own.to_public())
                put_bytes(folder / KEY, pyrage.passphrase.encrypt(str(own).encode(), passphrase))
            told = json.dumps({"folder": str(folder.absolute()), "recipient": recipient}, indent=1)
            put_bytes(self.data / NAMED, told.encode())

    def forget(self) -> None:
        """Put nothing there any more; what is there stays."""
        (self.data / NAMED).unlink(missing_ok=True)

    def files(self) -> list[Path]:
        """What lies there, the newest first."""
        second = self.named()
        if second is None or not second.folder.is_dir():
            return []
        return sorted(second.folder.glob("arc-stack-*.zip*"), reverse=True)

    def put(self, made: Backup, pictures: Path, now: datetime) -> None:
        """Put a backup there, whole or not at all, and let those go that are past their number; trouble is kept in
        words, for the backup itself is good."""
        second = self.named()
        self.trouble = ""
        if second is None:
            return
        try:
            with worded(second.folder / FILE), TemporaryDirectory(dir=self.data, prefix=".second-") as folder:
                half = Path(folder) / "whole.zip"
                zipped(half, json.loads((made.path / MANIFEST).read_text("utf-8")), made.path / FILE, pictures)
                if second.recipient:
                    half = _sealed(half, second.recipient)
                target = second.folder / f"arc-stack-{now.strftime(STAMP)}.zip{SEALED if second.recipient else ''}"
                put_file(half, target)
            for old in self.files()[KEEPS:]:
                old.unlink(missing_ok=True)
        except (StoreError, OSError, pyrage.EncryptError) as error:
            self.trouble = f"Nothing could be put into the second folder {second.folder}: {error}"


def sealed_along(whole: Path, passphrase: str) -> Path:
    """The whole workshop as one file that only a passphrase opens: the sealed file and its key in one zip."""
    own = pyrage.x25519.Identity.generate()
    sealed = _sealed(whole, str(own.to_public()))
    target = whole.with_name(f"{whole.stem}{SEALED_ALONG}")
    with zipfile.ZipFile(target, "w", zipfile.ZIP_STORED) as along:
        along.write(sealed, sealed.name)
        along.writestr(KEY, pyrage.passphrase.encrypt(str(own).encode(), passphrase))
    sealed.unlink()
    return target


def is_sealed(source: Path) -> bool:
    """Whether a backup is opened by a passphrase."""
    return source.name.endswith((SEALED, SEALED_ALONG))


def _sealed(file: Path, recipient: str) -> Path:
    target = file.with_name(file.name + SEALED)
    pyrage.encrypt_file(str(file), str(target), [pyrage.x25519.Recipient.from_str(recipient)])
    return target


def unsealed(source: Path, passphrase: str, to: Path) -> Path:
    """A sealed file opened into a folder, with the key beside it or in it and the passphrase. Raises ``StoreError``."""
    if source.name.endswith(SEALED_ALONG):
        source = _taken_apart(source, to)
    key = source.parent / KEY
    if not key.is_file():
        raise StoreError(f"{KEY} is missing beside {source.name}: bring it from the second folder too.")
    try:
        own = pyrage.x25519.Identity.from_str(pyrage.passphrase.decrypt(key.read_bytes(), passphrase).decode())
        target = to / source.name.removesuffix(SEALED)
        pyrage.decrypt_file(str(source), str(target), [own])
    except (pyrage.DecryptError, pyrage.IdentityError, UnicodeDecodeError, OSError) as error:
        raise StoreError(
            f"{source.name} is not opened by that passphrase, or it is damaged. Nothing was changed."
        ) from error
    return target


def _taken_apart(source: Path, to: Path) -> Path:
    """The sealed file of one that was taken along, laid into a folder with its key. Raises ``StoreError``."""
    try:
        with zipfile.ZipFile(source) as along:
            sealed = [i for i in along.infolist() if i.filename.endswith(SEALED)]
            names = [i.filename for i in sealed if i.filename != KEY]
            # stored as it is, so no larger than the file that holds it
            if len(names) != 1 or len(sealed) != 2 or any("/" in i.filename for i in sealed):
                raise StoreError(f"{source.name} holds no sealed workshop with its key.")
            if sum(i.file_size for i in sealed) > source.stat().st_size:
                raise StoreError(f"{source.name} says that it is larger than it is. Nothing was changed.")
            for name in (*names, KEY):
                along.extract(name, to)
    except (zipfile.BadZipFile, zlib.error, RuntimeError, KeyError, OSError) as error:
        # a runtime error: a member that is locked with a zip's own password, or packed in a way that is not known
        raise StoreError(f"{source.name} is cut off or damaged. Nothing was changed.") from error
    return to / names[0]
