"""A ratio table as a builder writes it."""

from arcstack.mech.ratio import RatioCurve


def read_ratio_table(text: str) -> RatioCurve:
    """Pairs of lobe lift (mm) and overall ratio, as ``3 1.56; 6.5 1.54``.

    Raises ``ValueError``, worded for the field.

    >>> read_ratio_table("3 1.56; 6.5 1.54")
    RatioCurve(lobe_mm=(3.0, 6.5), ratio=(1.56, 1.54))
    """
    pairs = []
    for row in text.split(";"):
        cells = row.split()
        if not cells:
            continue
        try:
            lift, ratio = (float(c) for c in cells)
        except ValueError:
            told = f"“{row.strip()[:20]}” is no pair: write lobe lift in mm and ratio, as 3 1.56; 6.5 1.54"
            raise ValueError(told) from None
        if not (0.0 <= lift <= 20.0 and 0.8 <= ratio <= 2.5):
            raise ValueError(f"a ratio of {ratio:g} at {lift:g} mm is not between 0.8 and 2.5 at 0 to 20 mm of lobe")
        pairs.append((lift, ratio))
    if len(pairs) < 2 or len({p[0] for p in pairs}) != len(pairs):
        raise ValueError("give at least two pairs, each at its own lobe lift")
    pairs.sort()
    return RatioCurve(tuple(p[0] for p in pairs), tuple(p[1] for p in pairs))
