"""The stages of the work, a folder each; adding one touches nothing else."""

import pkgutil
from importlib import import_module

from arcstack.web.kit.stage import Stage


def every_stage() -> list[Stage]:
    """The ``STAGE`` of every folder here."""
    folders = [found for found in pkgutil.iter_modules(__path__, f"{__name__}.") if found.ispkg]
    stages: list[Stage] = [import_module(found.name).STAGE for found in folders]
    return stages
