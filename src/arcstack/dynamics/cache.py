"""Where compiled loops are kept on disk: a place that can be written to, of its own for each state of the sources."""

import os
import tempfile
from hashlib import sha256
from pathlib import Path

from platformdirs import user_cache_dir


def sources() -> str:
    """A digest of every source file of this room: a loop reaches over files, and one changed makes all of them new."""
    digest = sha256()
    for file in sorted(Path(__file__).parent.rglob("*.py")):
        digest.update(file.read_bytes())
    return digest.hexdigest()[:16]


def place() -> Path:
    """The folder for compiled loops; under the system's own for passing things where the user's cannot be written."""
    for folder in (Path(user_cache_dir("arc-stack")), Path(tempfile.gettempdir()) / f"arc-stack-{os.getuid()}"):
        wanted = folder / f"loops-{sources()}"
        try:
            wanted.mkdir(parents=True, exist_ok=True)
        except OSError:
            continue
        if os.access(wanted, os.W_OK):
            return wanted
    return Path(tempfile.mkdtemp(prefix="arc-stack-loops-"))
