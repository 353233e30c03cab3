"""The Goodman line of each spring's wire, and where its stress comes and goes."""

from markupsafe import Markup

from arcstack.assess import spring
from arcstack.assess.context import Context
from arcstack.drawings.svg import add, picture, render
from arcstack.units import STRESS, System, show
from arcstack.units.convert import factor

WIDTH, HEIGHT = 760.0, 240.0
_LEFT, _RIGHT, _TOP, _BOTTOM = 64.0, 150.0, 16.0, 42.0


def goodman_picture(ctx: Context, system: System) -> Markup | None:
    """Amplitude of the shear over its mean, both springs, against the line; None while they are not known."""
    points = spring.goodman_points(ctx)
    if not points:
        return None
    reach = max(p.strength_MPa for p in points) * 1.05
    rise = max(max(p.reversed_MPa, p.amplitude_MPa) for p in points) * 1.08

    def x(mean: float) -> float:
        return _LEFT + mean / reach * (WIDTH - _LEFT - _RIGHT)

    def y(amplitude: float) -> float:
        return HEIGHT - _BOTTOM - amplitude / rise * (HEIGHT - _TOP - _BOTTOM)

    told = "; ".join(
        f"{p.spring}: {show(p.amplitude_MPa, STRESS, system)} about {show(p.mean_MPa, STRESS, system)}" for p in points
    )
    root = picture("goodman", (0, 0, WIDTH, HEIGHT), f"Goodman line of typical wire, and each spring’s shear. {told}.")
    add(root, "line", x1=_LEFT, y1=y(0), x2=WIDTH - _RIGHT, y2=y(0), class_="axis-line")
    add(root, "line", x1=_LEFT, y1=y(0), x2=_LEFT, y2=_TOP, class_="axis-line")
    unit = STRESS.unit(system)
    # round figures in the unit shown
    each, step = factor(STRESS, unit), 200 if system is System.MM else 40
    for number in range(0, int(reach / each), step):
        at_x = x(number * each)
        add(root, "line", x1=at_x, y1=y(0), x2=at_x, y2=y(0) + 4, class_="axis-line")
        add(root, "text", str(number), x=at_x, y=y(0) + 17, class_="tick-words")
    for number in range(step, int(rise / each), step):
        at_y = y(number * each)
        add(root, "line", x1=_LEFT - 4, y1=at_y, x2=_LEFT, y2=at_y, class_="axis-line")
        add(root, "text", str(number), x=_LEFT - 8, y=at_y + 4, class_="tick-words side")
    add(root, "text", f"mean shear, {unit}", x=(_LEFT + WIDTH - _RIGHT) / 2, y=HEIGHT - 6, class_="tick-words")
    add(root, "text", f"either side, {unit}", x=_LEFT + 8, y=_TOP + 4, class_="tick-words start")
    for at, p in enumerate(points):
        name, mean, amplitude = p.spring, p.mean_MPa, p.amplitude_MPa
        strength, reversed_ = p.strength_MPa, p.reversed_MPa
        add(root, "line", x1=x(0), y1=y(reversed_), x2=x(strength), y2=y(0), class_=f"goodman-line {name}")
        safety = p.safety
        # the ray on which the load grows, to where it meets the line
        add(root, "line", x1=x(0), y1=y(0), x2=x(mean * safety), y2=y(amplitude * safety), class_=f"goodman-ray {name}")
        add(root, "circle", cx=x(mean), cy=y(amplitude), r=6, class_=f"goodman-point {name}")
        add(
            root,
            "text",
            f"{name} n = {safety:.2f}",
            x=WIDTH - _RIGHT + 12,
            y=_TOP + 24 + 22 * at,
            class_=f"goodman-words {name}",
        )
    add(root, "text", "typical clean,", x=WIDTH - _RIGHT + 12, y=HEIGHT - _BOTTOM - 20, class_="tick-words start")
    add(root, "text", "peened wire", x=WIDTH - _RIGHT + 12, y=HEIGHT - _BOTTOM - 5, class_="tick-words start")
    return render(root)
