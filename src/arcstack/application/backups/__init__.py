"""Backups: a whole copy of the workshop taken while it runs, opened and looked through before it counts as one."""

from arcstack.application.backups.copies import FILE, MANIFEST, PICTURES, Backup, looked_through
from arcstack.application.backups.keeping import EVERY, Backups, keeps
from arcstack.application.backups.restoring import Restored, restore
from arcstack.application.backups.second import SEALED, SecondFolder, is_sealed, sealed_along, unsealed

__all__ = [
    "EVERY",
    "FILE",
    "MANIFEST",
    "PICTURES",
    "SEALED",
    "Backup",
    "Backups",
    "Restored",
    "SecondFolder",
    "is_sealed",
    "keeps",
    "looked_through",
    "restore",
    "sealed_along",
    "unsealed",
]  # fmt: skip
