"""The workshop kept: copied, put back, taken out as open files and in again."""

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory

import click

from arcstack.application.backups import Backups, SecondFolder, is_sealed, restore, unsealed
from arcstack.application.backups.one_head import restore_head
from arcstack.application.open_files import bring_in, export
from arcstack.application.seals import Checked, check
from arcstack.application.trail import Trail
from arcstack.application.workshop import Who
from arcstack.cli.given import DATA, FILE, folder_of
from arcstack.document import Sitting
from arcstack.errors import DocumentError, NotFound, StoreError
from arcstack.store import Database


def _now() -> datetime:
    return datetime.now(UTC)


HERE = Who("this machine", lambda: _now().replace(tzinfo=None))
"""Whoever may use the command line of the machine that keeps the workshop."""


@click.command("backup")
@DATA
@click.option(
    "--to", type=click.Path(dir_okay=False, path_type=Path), help="One file to take along, instead of one kept."
)
def backup(data: Path | None, to: Path | None) -> None:
    """Copy the workshop, also while it is served; the copy is opened and looked through before it counts.

    Ends with 0 for a good one, 1 for one that is not.
    """

    keeper = Backups(folder_of(data), _now)
    try:
        made = keeper.portable(to) if to is not None else keeper.take("by command")
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    if not made.good:
        raise click.ClickException(f"{made.path} is not good: {made.wrong}")
    counts = ", ".join(f"{n:,} {name}s" for name, n in made.counts.items() if n)
    click.echo(f"{made.path}: {counts or 'nothing yet'}, {made.pictures // 2} photographs, {made.size / 1e6:.1f} MB")


STDIN = click.option("--stdin", "from_stdin", is_flag=True, help="Read the passphrase as one line, not by asking.")


def _passphrase(from_stdin: bool, twice: bool = False) -> str:
    if from_stdin:
        return sys.stdin.readline().rstrip("\r\n")
    asked: str = click.prompt("Passphrase", hide_input=True, confirmation_prompt=twice)
    return asked


@contextmanager
def _plain(source: Path, from_stdin: bool) -> Iterator[Path]:
    """A backup that can be read: itself, or what a sealed file holds, for as long as it is looked at."""
    if not is_sealed(source):
        yield source
        return
    with TemporaryDirectory(prefix="arc-stack-") as folder:
        yield unsealed(source, _passphrase(from_stdin), Path(folder))


@click.command("restore")
@click.argument("source", type=click.Path(exists=True, path_type=Path))
@DATA
@STDIN
@click.option(
    "--what-is-whole", is_flag=True, help="Of a damaged database, the rows that can be read; the rest is named."
)
def restore_backup(source: Path, data: Path | None, from_stdin: bool, what_is_whole: bool) -> None:
    """Put a backup, its folder or a file that was taken along, in the place of the workshop; what stood there is kept.

    The workshop must not be served meanwhile. Ends with 1, and changes nothing, where the workshop's own file is not
    good; photographs that are missing or damaged are named. A file of a second folder asks for its passphrase.
    """
    try:
        with _plain(source, from_stdin) as plain:
            back = restore(plain, folder_of(data), _now, whole_rows=what_is_whole)
        database = Database.open(folder_of(data) / "workshop.sqlite")
        Trail(database).note(HERE, "restore", f"from {source.name}")
        checked = check(database)
        database.engine.dispose()
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    counts = ", ".join(f"{n:,} {name}s" for name, n in back.counts.items() if n)
    click.echo(f"Restored into {folder_of(data)}: {counts}")
    for name in back.lost:
        click.echo(f"Photograph {Path(name).name[:16]} did not come back: it is missing or damaged there.", err=True)
    for words in back.unread:
        click.echo(f"{words}.", err=True)
    if back.old is not None:
        click.echo(f"What stood there before is kept as {back.old}")
    _told(checked)


@click.command("restore-head")
@click.argument("source", type=click.Path(exists=True, path_type=Path))
@click.argument("name")
@DATA
@STDIN
def restore_one(source: Path, name: str, data: Path | None, from_stdin: bool) -> None:
    """Bring one head of a backup back, with its readings and photographs, beside what stands; NAME is its name, or its
    number in the backup. Also while the workshop is served."""
    try:
        with _plain(source, from_stdin) as plain:
            made = restore_head(plain, folder_of(data), name, Who("workshop", lambda: _now().replace(tzinfo=None)))
    except (StoreError, NotFound) as error:
        raise click.ClickException(str(error)) from error
    click.echo(
        f"{made.name} is here again as build {made.id}, with {made.readings} readings, {made.pictures} photographs."
    )


@click.command("second-folder")
@click.argument("folder", required=False, type=click.Path(file_okay=False, path_type=Path))
@DATA
@click.option("--open", "open_", is_flag=True, help="Without a passphrase: whoever has the folder can read it.")
@click.option("--none", is_flag=True, help="Put nothing there any more.")
@STDIN
def second_folder(folder: Path | None, data: Path | None, open_: bool, none: bool, from_stdin: bool) -> None:
    """Put every backup into FOLDER too, on another disk or a share, sealed with a passphrase. Alone, tells which it is.

    The passphrase is kept nowhere: without it, and without key.age beside the files, nobody opens them.
    """
    second = SecondFolder(folder_of(data))
    try:
        if none:
            second.forget()
        elif folder is not None:
            second.name(folder, "" if open_ else _passphrase(from_stdin, twice=True))
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    named = second.named()
    if named is None:
        click.echo("There is no second folder: a disk that dies takes its backups along.")
    else:
        click.echo(f"{named.folder}, {'sealed' if named.recipient else 'open'}: {len(second.files())} files")


def _told(checked: Checked) -> None:
    for b in checked.broken:
        click.echo(f"{b.head}, signed {b.at:%Y-%m-%d %H:%M}: {b.why}.", err=True)
    if checked.unsealed:
        click.echo(
            f"{checked.unsealed} signatures stand without a seal: an earlier version put them, or their seals were "
            "taken away.",
            err=True,
        )
    if checked.seals and not checked.broken:
        click.echo(f"{checked.seals} signatures, each as it was put.")


@click.command("seals")
@DATA
def seals(data: Path | None) -> None:
    """Look whether every signature still stands over what was signed. Ends with 1 where one does not."""
    try:
        checked = check(Database.open(folder_of(data) / "workshop.sqlite"))
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    _told(checked)
    if not checked.seals and not checked.unsealed:
        click.echo("Nothing was signed here yet.")
    if checked.broken:
        raise SystemExit(1)


@click.command("export")
@click.argument("target", type=click.Path(dir_okay=False, path_type=Path))
@DATA
def export_open(target: Path, data: Path | None) -> None:
    """Write the whole workshop to TARGET as open files: JSON, CSV and pictures in one zip archive."""

    folder = folder_of(data)
    try:
        if not (folder / "workshop.sqlite").is_file():
            raise StoreError(f"There is no workshop in {folder}.")
        counts = export(Database.open(folder / "workshop.sqlite"), folder / "pictures", target, _now())
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    click.echo(f"{target}: {', '.join(f'{n:,} {name}s' for name, n in counts.items() if n) or 'nothing yet'}")


@click.command("import")
@click.argument("source", type=FILE)
@DATA
def import_open(source: Path, data: Path | None) -> None:
    """Take what export wrote into an empty workshop: all of it or nothing."""

    folder = folder_of(data)
    try:
        counts = bring_in(
            Database.open(folder / "workshop.sqlite"), folder / "pictures", source, Sitting(hand="workshop", at=_now())
        )
    except (StoreError, DocumentError) as error:
        raise click.ClickException(str(error)) from error
    click.echo(f"Taken into {folder}: {', '.join(f'{n:,} {name}s' for name, n in counts.items() if n) or 'nothing'}")
