"""Verdict marks: a shape for each level, solid when proven, dashed on paper."""

from functools import cache

from markupsafe import Markup

from arcstack.checks import Level

_SHAPES = {
    Level.CLEAR: '<circle cx="9" cy="9" r="6.5"/>',
    Level.TIGHT: '<path d="M9 2 16.5 15.5H1.5Z"/>',
    Level.FAIL: '<path d="M2.5 2.5H15.5V15.5H2.5Z"/><path class="bar" d="M4.5 13.5 13.5 4.5"/>',
    Level.OPEN: '<circle cx="9" cy="9" r="6"/>',
    Level.WAIVED: '<circle cx="9" cy="9" r="6.5"/><path class="bar" d="M2.5 9H15.5"/>',
}


@cache
def mark(level: Level, proven: bool, size: int = 18) -> Markup:
    """The mark as inline SVG, with its words for those who cannot see it."""
    words = level.value if level is Level.OPEN else f"{level.value}, {'proven' if proven else 'on paper'}"
    return Markup(
        '<svg class="mark {} {}" viewBox="0 0 18 18" width="{}" height="{}" role="img" aria-label="{}">{}</svg>'
    ).format(level.value, "proven" if proven else "paper", size, size, words, Markup(_SHAPES[level]))


def shape(level: Level) -> str:
    """The bare shape, 18 units square, for use inside a drawing."""
    return _SHAPES[level]
