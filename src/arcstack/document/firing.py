"""A firing order as a builder writes it."""

import re


def read_cylinders(text: str) -> tuple[int, ...]:
    """Cylinders by the engine maker's numbers, each once, in their order along the head.

    Raises ``ValueError``, worded for the field.

    >>> read_cylinders("2-4-6"), read_cylinders("")
    ((2, 4, 6), ())
    """
    cells = [c for c in re.split(r"[\s,;–-]+", text.strip()) if c]
    if not all(c.isdigit() and len(c) < 3 and int(c) > 0 for c in cells):
        raise ValueError("write the cylinders by their numbers, as 1-3-5")
    found = tuple(int(c) for c in cells)
    if len(set(found)) != len(found):
        raise ValueError("each cylinder once")
    return found


def read_firing_order(text: str) -> tuple[int, ...]:
    """Cylinders in the order in which they fire, as ``1-3-4-2``, each once.

    Raises ``ValueError``, worded for the field.

    >>> read_firing_order("1-3-4-2"), read_firing_order("1 5 3 6 2 4")
    ((1, 3, 4, 2), (1, 5, 3, 6, 2, 4))
    """
    cells = [c for c in re.split(r"[\s,;–-]+", text.strip()) if c]
    if not all(c.isdigit() and len(c) < 3 for c in cells):
        raise ValueError("write the cylinders by their numbers, as 1-3-4-2")
    order = tuple(int(c) for c in cells)
    if sorted(order) != list(range(1, len(order) + 1)):
        raise ValueError("each cylinder once, counted from 1 with none left out")
    return order
