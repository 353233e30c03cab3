"""A lift curve as a table that a spreadsheet and this program read back."""

import csv
import io
import math

import numpy as np

from arcstack.mech.cam.law import LiftLaw


def write_curve(law: LiftLaw, name: str) -> str:
    """Lift, velocity and acceleration at the valve each half cam degree, with a header row.

    Lines that start with # are notes.
    """
    start, end = (math.degrees(a) for a in law.support_rad)
    degrees = np.arange(math.floor(start) - 10.0, math.ceil(end) + 10.5, 0.5)
    angle = np.radians(degrees)
    columns = [law.evaluate(angle, order) for order in range(3)]
    out = io.StringIO()
    out.write(f"# {' '.join(name.split())}\n# lift at the valve before lash; angles count from the nose\n")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["cam angle deg", "lift mm", "velocity mm/rad", "acceleration mm/rad2"])
    for row in zip(degrees, *columns, strict=True):
        writer.writerow([f"{row[0]:.1f}", f"{row[1]:.5f}", f"{row[2]:.4f}", f"{row[3]:.3f}"])
    return out.getvalue()
