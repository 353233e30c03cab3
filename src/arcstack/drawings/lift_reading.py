"""A lift table beside its smoothed curve, with what the smoothing leaves."""

import numpy as np
from markupsafe import Markup

from arcstack.assess.cam import Smoothed
from arcstack.drawings.svg import add, num, picture, render
from arcstack.mech.cam.law import Array
from arcstack.units import FINE_LENGTH, System, show

WIDTH, LIFT_HEIGHT, REST_TOP, REST_HEIGHT = 700.0, 150.0, 172.0, 60.0


def reading_picture(cam_rad: Array, lift_mm: Array, smoothed: Smoothed, system: System) -> Markup:
    """Readings as dots, the curve through them; below, readings less curve at their own scale."""
    root = picture("reading", (0, 0, WIDTH, 250), "Readings and the smoothed curve through them")
    low, span = float(cam_rad[0]), float(cam_rad[-1] - cam_rad[0])
    top = float(lift_mm.max())

    def x(angle: float) -> float:
        return 8.0 + (angle - low) / span * (WIDTH - 16.0)

    def y(lift: float) -> float:
        return LIFT_HEIGHT - max(lift, -0.05 * top) / top * (LIFT_HEIGHT - 12.0)

    fine = np.linspace(cam_rad[0], cam_rad[-1], 500)
    law = smoothed.law
    curve = law.evaluate(fine - law.nose_rad)
    points = " L".join(f"{num(x(float(a)))} {num(y(float(v)))}" for a, v in zip(fine, curve, strict=True))
    for a, v in zip(cam_rad, lift_mm, strict=True):
        add(root, "circle", cx=x(float(a)), cy=y(float(v)), r=1.4, class_="dot")
    add(root, "path", d="M" + points, class_="lift-curve")
    add(root, "line", x1=8, y1=LIFT_HEIGHT, x2=WIDTH - 8, y2=LIFT_HEIGHT, class_="ground")
    rest = lift_mm - law.evaluate(cam_rad - law.nose_rad)
    reach = max(float(np.abs(rest).max()), 1e-6)
    middle = REST_TOP + REST_HEIGHT / 2
    add(root, "line", x1=8, y1=middle, x2=WIDTH - 8, y2=middle, class_="ground")
    for a, r in zip(cam_rad, rest, strict=True):
        add(root, "circle", cx=x(float(a)), cy=middle - float(r) / reach * REST_HEIGHT / 2, r=1.2, class_="rest")
    rms, most = show(smoothed.residual_mm, FINE_LENGTH, system), show(reach, FINE_LENGTH, system)
    words = f"left by the curve: rms {rms}, most {most}"
    add(root, "text", words, x=8, y=246, class_="tick-left")
    return render(root)
