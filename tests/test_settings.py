"""Every threshold stands in the table, and everything in the table is used."""

import ast
import re
from pathlib import Path

import arcstack
from arcstack.settings import SETTINGS

ROOT = Path(arcstack.__file__).parent

NO_SETTINGS = {
    "GRAVITY",
    # what a change is tried by is told in the change's own words
    "LIGHTER_KG", "STIFFER", "FIRMER", "GENTLER", "LESS_LASH_MM",
    # the store's file modes, the command's exit
    "OWNER_ONLY", "OWNER_FOLDER", "NOTHING_JUDGED",
    # tags of a photograph, the step and the neighbours of a code by its standard
    "ORIENTATION", "PLACE", "STEP_S", "NEAR",
    # what rounding leaves of a figure, what a manifest is held to before it is read
    "SAME", "MOST_MANIFEST", "SPARE_BYTES",
}  # fmt: skip
"""Constants of these rooms that are physics, words or the system's."""

ROOMS = ("assess", "trials", "application", "store", "formats")


def constants() -> list[str]:
    """Names in capitals that a plain number is put into, in rooms where thresholds could lie about."""
    found = []
    for room in ROOMS:
        for file in (ROOT / room).rglob("*.py"):
            for node in ast.parse(file.read_text("utf-8")).body:
                if not isinstance(node, ast.Assign):
                    continue
                values = node.value.elts if isinstance(node.value, ast.Tuple) else [node.value]
                names = node.targets[0].elts if isinstance(node.targets[0], ast.Tuple) else node.targets
                numbers = all(isinstance(v, ast.Constant) and isinstance(v.value, int | float) for v in values)
                plain = len(names) == len(values) and numbers
                found += [n.id for n in names if plain and isinstance(n, ast.Name) and n.id.strip("_").isupper()]
    return found


def test_no_threshold_lies_about() -> None:
    assert set(constants()) - NO_SETTINGS == set()


def test_every_setting_is_told_and_used() -> None:
    used = {
        name
        for file in ROOT.rglob("*.py")
        for name in re.findall(r'setting\("([a-z_.]+)"\)', file.read_text("utf-8"))
        if file.name != "settings.py"
    }
    assert used == set(SETTINGS)
    assert all(s.help.endswith(".") and s.unit for s in SETTINGS.values())
