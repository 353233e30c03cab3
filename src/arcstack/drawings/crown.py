"""The bucket's crown with the contact line's reach, and the lobe with its base circle."""

from markupsafe import Markup

from arcstack.assess import cam, follower
from arcstack.assess.context import Context, known
from arcstack.document import Entry, get
from arcstack.drawings.parts import lobe_outline
from arcstack.drawings.svg import add, line, picture, polygon, render
from arcstack.mech.cam.law import ScaledLaw


def crown(ctx: Context) -> Markup | None:
    """Seen along the valve: crown, and the band that the contact line runs over; None while figures are missing."""
    values = [get(ctx.build, ctx.path(p)) for p in ("follower.bucket.diameter", "cam.lobe_width")]
    if not ctx.bucket or not all(isinstance(v, Entry) for v in values):
        return None
    off = known(lambda: follower.eccentricity(ctx))
    if off is None:
        return None
    reach = off.value
    diameter, width = (v.value for v in values)
    entry = get(ctx.build, ctx.path("follower.bucket.offset"))
    offset = entry.value if isinstance(entry, Entry) else 0.0
    r = diameter / 2.0
    words = f"Bucket crown, {diameter:.1f} mm: contact runs {reach:.1f} mm to either side, lobe {width:.1f} mm wide"
    root = picture("section crown", (-r - 3, -r - 3, 2 * r + 6, 2 * r + 6), words)
    add(root, "circle", cx=0, cy=0, r=r, class_="titanium")
    add(root, "rect", x=-reach, y=offset - width / 2, width=2 * reach, height=width, class_="contact")
    for x in (-reach, 0.0, reach):
        line(root, (x, -offset - width / 2), (x, -offset + width / 2), "contact-line")
    line(root, (-r - 2, 0), (r + 2, 0), "axis")
    line(root, (0, -r - 2), (0, r + 2), "axis")
    return render(root)


def lobe_picture(ctx: Context) -> Markup | None:
    """The lobe seen along the shaft, nose up, with its base circle."""
    base = get(ctx.build, ctx.path("cam.base_circle"))
    if not isinstance(base, Entry):
        return None
    curve, ratio = known(lambda: cam.curve(ctx)), known(lambda: cam.ratio(ctx))
    if curve is None or ratio is None:
        return None
    r = base.value / 2.0
    top = r + cam.gross_lift(ctx).value / ratio.value
    outline = [(x, -y) for x, y in lobe_outline(ScaledLaw(curve.lobe, 1.0), r, 1.0)]
    box = (-r - 4, -top - 3, 2 * r + 8, top + r + 6)
    root = picture("section lobe-picture", box, "Lobe, nose up, with its base circle")
    polygon(root, outline, "lobe")
    add(root, "circle", cx=0, cy=0, r=r, class_="base-circle")
    line(root, (-r, top), (r, top), "dimension")
    line(root, (0, -r - 2), (0, top + 2), "axis")
    line(root, (-r - 2, 0), (r + 2, 0), "axis")
    return render(root)
