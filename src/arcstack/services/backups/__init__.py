"""Backups: a whole copy of the workshop taken while it runs, opened and looked through before it counts as one."""

from arcstack.services.backups.copies import FILE, MANIFEST, PICTURES, Backup, looked_through
from arcstack.services.backups.keeping import EVERY, Backups, keeps
from arcstack.services.backups.restoring import restore

__all__ = ["EVERY", "FILE", "MANIFEST", "PICTURES", "Backup", "Backups", "keeps", "looked_through", "restore"]
