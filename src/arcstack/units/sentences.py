"""Lengths within a sentence, in the unit that the page is read in."""

import re

from arcstack.units.dimension import System

_LENGTH = re.compile(r"([−-]?)(\d+(?:\.(\d+))?)\s?mm\b(?!²|³|/mm)")


def in_system(text: str, system: System) -> str:
    """A sentence whose figures were written in mm, as a page in ``system`` says it.

    >>> in_system("least at 7.1° after TDC, 0.50 mm before half lift", System.INCH)
    'least at 7.1° after TDC, 0.0197 in before half lift'
    >>> in_system("0.50 mm", System.MM), in_system("1 bar is 0.1 N/mm²", System.INCH)
    ('0.50 mm', '1 bar is 0.1 N/mm²')
    """
    if system is System.MM or "mm" not in text:
        return text

    def inches(found: re.Match[str]) -> str:
        decimals = min(len(found[3] or "") + 2, 6) if found[3] else 4
        return f"{found[1]}{float(found[2]) / 25.4:.{decimals}f} in"

    return _LENGTH.sub(inches, text)
