"""The workshop kept: copied, put back, taken out as open files and in again."""

from datetime import UTC, datetime
from pathlib import Path

import click

from arcstack.cli.given import DATA, FILE, folder_of
from arcstack.document import Sitting
from arcstack.errors import DocumentError, StoreError
from arcstack.services.backups import Backups, restore
from arcstack.services.open_files import bring_in, export
from arcstack.services.seals import Checked, check
from arcstack.store import Database


def _now() -> datetime:
    return datetime.now(UTC)


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


@click.command("restore")
@click.argument("source", type=click.Path(exists=True, path_type=Path))
@DATA
def restore_backup(source: Path, data: Path | None) -> None:
    """Put a backup, its folder or a file that was taken along, in the place of the workshop; what stood there is kept.

    The workshop must not be served meanwhile. Ends with 1, and changes nothing, where the backup is not good.
    """

    try:
        counts, old = restore(source, folder_of(data), _now)
    except StoreError as error:
        raise click.ClickException(str(error)) from error
    checked = check(Database.open(folder_of(data) / "workshop.sqlite"))
    click.echo(f"Restored into {folder_of(data)}: {', '.join(f'{n:,} {name}s' for name, n in counts.items() if n)}")
    if old is not None:
        click.echo(f"What stood there before is kept as {old}")
    _told(checked)


def _told(checked: Checked) -> None:
    for b in checked.broken:
        click.echo(f"{b.head}, signed {b.at:%Y-%m-%d %H:%M}: {b.why}.", err=True)
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
    if not checked.seals:
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
