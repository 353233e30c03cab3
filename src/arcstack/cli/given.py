"""What several commands are given alike."""

from pathlib import Path

import click
from platformdirs import user_data_dir

PORT = click.option("--port", default=8160, show_default=True, type=click.IntRange(1, 65535), help="Port on loopback.")

DATA = click.option(
    "--data", type=click.Path(file_okay=False, path_type=Path), help="Folder of the workshop; made when missing."
)

FILE = click.Path(exists=True, dir_okay=False, path_type=Path)


def folder_of(data: Path | None) -> Path:
    """The folder that is named, or the user's own."""
    return data or Path(user_data_dir("arc-stack"))
