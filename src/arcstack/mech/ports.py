"""Openings that meet: the edge that one leaves in the stream of another. mm."""

from collections.abc import Sequence
from itertools import pairwise

Opening = tuple[float, float, float, float]
"""Width, height, and how far its middle lies across and up."""


def edge_mm(upstream: Opening, downstream: Opening) -> float:
    """How far the opening that the stream comes from lies outside the one it enters, at the worst of four sides; below
    nought it lies within it, and leaves no edge against the stream.

    Source: geometry of two rectangles.

    >>> round(edge_mm((40.0, 30.0, 0.0, 0.0), (39.0, 31.0, 0.2, 0.0)), 3)
    0.7
    """
    (w1, h1, x1, y1), (w2, h2, x2, y2) = upstream, downstream
    across = (w1 - w2) / 2.0 + abs(x1 - x2)
    up = (h1 - h2) / 2.0 + abs(y1 - y2)
    return max(across, up)


def worst_edge_mm(along: Sequence[Opening]) -> tuple[float, int]:
    """The largest edge along a row of openings in the order of the stream, and at which joint, from 0.

    Raises ``ValueError`` for fewer than two. Source: geometry.

    >>> worst_edge_mm([(40.0, 30.0, 0.0, 0.0), (41.0, 31.0, 0.0, 0.0), (40.0, 30.0, 0.0, 0.0)])
    (0.5, 1)
    """
    if len(along) < 2:
        raise ValueError("two openings meet at least")
    edges = [edge_mm(a, b) for a, b in pairwise(along)]
    worst = max(edges)
    return worst, edges.index(worst)
