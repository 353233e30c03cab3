"""The parts of the section, each a half profile on both sides of the axis."""

import math
from itertools import pairwise
from xml.etree.ElementTree import Element

import numpy as np

from arcstack.drawings.geometry import Arm, Coil, Geometry
from arcstack.drawings.svg import Point, add, both, line, num, path_of, polygon
from arcstack.mech.cam.law import LiftLaw

GUIDE_FOOT = -19.0
BREAK = -23.0
SEAT = -44.0
CHAMBER = -52.0


def travelling(parent: Element, part: str, share: float = 1.0) -> Element:
    """A group that moves down by ``share`` of the valve's lift."""
    return add(parent, "g", class_="part", data_part=part, data_travel=share)


def still(parent: Element, part: str) -> Element:
    return add(parent, "g", class_="part", data_part=part)


def head_casting(root: Element, g: Geometry) -> None:
    """Cast metal: bucket bore, spring pocket, guide boss, and below the break the port and chamber roof."""
    group = still(root, "head")
    bore = g.bucket / 2.0 + 0.15 if g.is_bucket else g.outer.radius + g.outer.wire / 2 + 3.0
    pocket = g.outer.radius + g.outer.wire / 2 + 1.0
    wall = g.wall
    top = g.crown - 3.0
    ledge = max(0.0, min(g.crown - 22.0 - g.gross_lift - 1.5, top - 4.0)) if bore > pocket else 0.0
    boss = g.stem / 2 + 6.5
    both(
        group,
        [
            (bore, top),
            (wall, top),
            (wall, BREAK),
            (boss + 8.5, BREAK),
            (boss + 3.0, GUIDE_FOOT + 3.5),
            (boss, GUIDE_FOOT + 2.0),
            (g.stem / 2 + 2.9, GUIDE_FOOT + 1.2),
            (g.stem / 2 + 2.9, 0.0),
            (pocket, 0.0),
            (pocket, ledge),
            (bore, ledge),
        ],
        "cast",
    )
    throat = g.head / 2 - 2.6
    outer = max(wall, g.head / 2 + 8.0)
    both(
        group,
        [
            (boss + 9.5, BREAK - 3.0),
            (wall, BREAK - 3.0),
            (outer, BREAK - 6.0),
            (outer, CHAMBER - 1.0),
            (g.head / 2 + 4.5, SEAT - 3.2),
            (g.head / 2 + 2.6, SEAT - 3.2),
            (g.head / 2 + 2.6, SEAT + 3.2),
            (throat, SEAT + 3.2),
            (throat - 0.4, SEAT + 7.0),
            (boss + 7.0, BREAK - 9.0),
        ],
        "cast",
    )
    for y in (BREAK, BREAK - 3.0):
        for x in (-1.0, 1.0):
            points = [(x * (boss + 8.0 + i * (wall - boss - 8.0) / 8), y + (0.7 if i % 2 else -0.7)) for i in range(9)]
            add(group, "path", d=path_of(points, closed=False), class_="break")


def seat_insert(root: Element, g: Geometry) -> None:
    group = still(root, "seat")
    r = g.head / 2
    both(
        group,
        [
            (r - 2.6, SEAT + 3.2),
            (r + 2.6, SEAT + 3.2),
            (r + 2.6, SEAT - 3.2),
            (r + 0.6, SEAT - 1.9),
            (r - 1.6, SEAT + 0.3),
            (r - 2.6, SEAT + 1.6),
        ],
        "steel",
    )


def guide_and_seal(root: Element, g: Geometry) -> None:
    """Guide, and the seal over its end: lip on the stem, garter spring, metal shell."""
    bore = g.stem / 2 + 0.1
    guide = still(root, "guide")
    both(
        guide,
        [
            (bore, g.seal - 3.0),
            (bore + 2.4, g.seal - 3.0),
            (bore + 2.8, g.seal - 4.0),
            (bore + 2.8, GUIDE_FOOT),
            (bore + 1.6, GUIDE_FOOT - 1.5),
            (bore, GUIDE_FOOT - 1.5),
        ],
        "bronze",
    )
    seal = still(root, "seal")
    both(
        seal,
        [
            (bore - 0.1, g.seal - 1.6),
            (bore + 0.9, g.seal),
            (bore + 2.6, g.seal),
            (bore + 4.2, g.seal - 2.6),
            (bore + 4.2, g.seal - 9.0),
            (bore + 2.9, g.seal - 9.0),
            (bore + 2.9, g.seal - 3.0),
            (bore + 0.2, g.seal - 2.9),
        ],
        "rubber",
    )
    for x in (-1, 1):
        add(seal, "circle", cx=x * (bore + 2.2), cy=-(g.seal - 1.1), r=0.55, class_="garter")


def shims_and_locator(root: Element, g: Geometry) -> None:
    inside = g.stem / 2 + 7.4
    outside = g.outer.radius + g.outer.wire / 2 + 0.4
    base = 0.0
    shims = still(root, "shims")
    for thickness in g.shims:
        both(shims, [(inside, base), (outside, base), (outside, base + thickness), (inside, base + thickness)], "shim")
        base += thickness
    if g.locator <= 0 and g.locator_step <= 0:
        return
    locator = still(root, "locator")
    top = base + g.locator
    step = top + g.locator_step
    edge = g.outer.radius - g.outer.wire / 2 - 0.25
    profile = [(inside, base), (outside, base), (outside, top), (edge, top), (edge, step), (inside, step)]
    if g.inner:
        spigot = g.inner.radius - g.inner.wire / 2 - 0.25
        if spigot > inside:
            profile = [*profile[:-1], (spigot, step), (spigot, step + 1.8), (inside, step + 1.8)]
    both(locator, profile, "steel")


def _turns(coil: Coil) -> list[tuple[float, float]]:
    """Cut coils from the seat upward, half a pitch apart and side by side: (x, share of the lift)."""
    halves = max(round(2 * (coil.coils - 1.0)), 2)
    return [((1 if i % 2 == 0 else -1) * coil.radius_at(i / halves), i / halves) for i in range(halves + 1)]


def coils_behind(root: Element, name: str, coil: Coil) -> None:
    """The far half of each turn, seen behind guide and stem."""
    group = add(root, "g", class_="part", data_part=name)
    first = coil.bottom + coil.wire / 2
    free = coil.height - coil.wire
    for (x1, s1), (x2, s2) in pairwise(_turns(coil)):
        if x1 < x2:
            continue
        y1, y2 = first + s1 * free, first + s2 * free
        for class_, thick in (("far-edge", coil.wire), ("far", coil.wire - 0.3)):
            turn = line(group, (x1, y1), (x2, y2), class_)
            turn.set("stroke-width", num(thick))
            turn.set("data-travel1", num(s1))
            turn.set("data-travel2", num(s2))


def coil_spring(root: Element, name: str, coil: Coil) -> None:
    """Cut coils on both sides, each moving by its own share of the lift; the ends are closed."""
    group = still(root, name)
    turns = _turns(coil)
    for x, share in [*turns, (-coil.radius_at(0.0), 0.0), (-turns[-1][0], 1.0)]:
        y = coil.bottom + coil.wire / 2 + share * (coil.height - coil.wire)
        holder = add(group, "g", data_travel=share)
        add(holder, "circle", cx=x, cy=-y, r=coil.wire / 2, class_=f"coil {name}")


def retainer(root: Element, g: Geometry) -> None:
    group = travelling(root, "retainer")
    top = g.outer.radius_at(1.0)
    y, r = g.retainer_y, g.rim or top + g.outer.wire / 2 - 0.3
    usual = top - g.outer.wire / 2 - 0.3
    land = g.land or usual
    hub = (g.hub or g.inner.radius_at(1.0) - g.inner.wire / 2 - 0.3) if g.inner else land
    cone_top, cone_low = g.stem / 2 + 2.7, g.stem / 2 + 1.7
    low = y - max(g.retainer_depth, g.retainer_step)
    hub = max(hub, cone_low + 0.8)
    profile = [(cone_top, y + 3.6), (hub - 0.6, y + 3.6), (land, y + 2.4), (r, y + 2.0), (r, y), (land, y)]
    if g.inner:
        profile += [(land, y - g.retainer_step), (hub, y - g.retainer_step)]
    profile += [(hub, low), (cone_low, low)]
    both(group, profile, "titanium")


def locks(root: Element, g: Geometry) -> None:
    group = travelling(root, "locks")
    y = g.lock_y
    low = y - max(g.retainer_depth, g.retainer_step)
    s = g.stem / 2
    both(
        group,
        [
            (s + 0.05, y + 4.3),
            (s + 2.6, y + 4.3),
            (s + 1.65, low + 0.3),
            (s + 0.05, low + 0.3),
            (s + 0.05, y + 1.2),
            (s - 0.7, y + 0.9),
            (s - 0.7, y - 0.5),
            (s + 0.05, y - 0.8),
        ],
        "lock",
    )


def valve(root: Element, g: Geometry) -> None:
    """The whole valve, broken between guide and head like the casting around it."""
    group = travelling(root, "valve")
    s, y = g.stem / 2, g.lock_y
    upper = [
        (s, BREAK + 0.2),
        (s, y - 0.8),
        (s - 0.7, y - 0.5),
        (s - 0.7, y + 0.9),
        (s, y + 1.2),
        (s, g.tip - 0.5),
        (s - 0.5, g.tip),
        (-(s - 0.5), g.tip),
        (-s, g.tip - 0.5),
        (-s, y + 1.2),
        (-(s - 0.7), y + 0.9),
        (-(s - 0.7), y - 0.5),
        (-s, y - 0.8),
        (-s, BREAK + 0.2),
    ]
    polygon(group, upper, "valve")
    polygon(group, _valve_head(g), "valve")
    add(group, "path", d=_margin(g), class_="edge")


def _valve_head(g: Geometry) -> list[Point]:
    s, r = g.stem / 2, g.head / 2
    fillet: list[Point] = []
    reach = r - 2.4 - s
    for i in range(13):
        t = i / 12
        fillet.append((s + reach * t**2.4, BREAK - 3.2 + (SEAT + 1.1 - (BREAK - 3.2)) * (1 - (1 - t) ** 1.9)))
    right = [*fillet, (r, SEAT - 1.3), (r, SEAT - 2.7), (r - 0.5, SEAT - 3.1), (0.0, SEAT - 3.1)]
    left = [(-x, y) for x, y in reversed(right[:-1])]
    return [*right, *left]


def _margin(g: Geometry) -> str:
    r = g.head / 2
    return path_of([(-r, SEAT - 1.3), (r, SEAT - 1.3)], closed=False)


def ghost(root: Element, g: Geometry) -> None:
    """The valve's head closed and at full lift, outlined: where it is not, it will be."""
    for lift in (0.0, g.net_lift):
        group = add(root, "g", transform=f"translate(0 {num(lift)})", class_="ghost")
        polygon(group, _valve_head(g), "ghost-line")


def follower(root: Element, g: Geometry) -> None:
    """Bucket with its lash shim under the crown, or a finger or rocker over what lies on the tip."""
    group = travelling(root, "bucket")
    tip, crown = g.tip, g.crown
    if g.is_bucket:
        r = g.bucket / 2
        foot = crown - 22.0
        both(
            group,
            [
                (0, crown),
                (r - 0.6, crown),
                (r, crown - 0.6),
                (r, foot),
                (r - 1.5, foot),
                (r - 1.5, crown - 4.4),
                (r - 3.2, crown - 2.6),
                (0, crown - 2.6),
            ],
            "steel",
        )
        polygon(group, [(-5.2, tip), (5.2, tip), (5.2, tip + 2.4), (-5.2, tip + 2.4)], "shim")
        return
    polygon(group, [(-3.2, tip), (3.2, tip), (3.6, g.foot), (-3.6, g.foot)], "shim")
    if g.arm is not None:
        _lever(root, g, g.arm)


def _lever(root: Element, g: Geometry, a: Arm) -> None:
    """A finger on its pivot's ball, or a rocker on its shaft: tip, pivot and pad or roller where their figures have
    them, turned about the pivot as the valve opens."""
    pivot_y, pad_y = g.foot + a.pivot_y, g.foot + a.pad_y
    behind = still(root, "bucket")
    arm = add(root, "g", class_="part", data_part="bucket", data_swing=f"{num(a.pivot_x)} {num(-pivot_y)}")
    start = (-5.0, g.foot + 5.0)
    if a.rocker:
        # along the top of the pad or roller, so that the lobe has its way beneath
        end = (a.pad_x + 7.0, pad_y + (2.0 if a.roller else 5.5))
        polygon(arm, _beam([start, (a.pivot_x, pivot_y), end], (3.0, 9.0, 3.0)), "steel")
    else:
        x, low = a.pivot_x, pivot_y - 12.0
        polygon(behind, [(x - 2.6, pivot_y), (x - 3.6, low), (x + 3.6, low), (x + 2.6, pivot_y)], "steel")
        middle = (a.pad_x, pad_y if a.roller else pad_y - 4.2)
        polygon(arm, _beam([start, middle, (x + 4.0, pivot_y + 2.6)], (3.0, 4.0, 4.0)), "steel")
    # the tip's own pad, rounded where it rolls over the valve
    tip = f"M-5 {num(-g.foot - 2.5)} Q0 {num(-g.foot + 2.5)} 5 {num(-g.foot - 2.5)} V{num(-g.foot - 5.0)} H-5 Z"
    add(arm, "path", d=tip, class_="lock")
    if a.roller:
        add(arm, "circle", cx=a.pad_x, cy=-pad_y, r=a.radius, class_="lock")
        add(arm, "circle", cx=a.pad_x, cy=-pad_y, r=max(a.radius * 0.36, 1.2), class_="steel")
    else:
        _pad(arm, a, pad_y)
    if a.rocker:
        add(arm, "circle", cx=a.pivot_x, cy=-pivot_y, r=8.6, class_="steel")
        before = still(root, "bucket")
        add(before, "circle", cx=a.pivot_x, cy=-pivot_y, r=6.2, class_="cast")
        for dx, dy in ((1.6, 0.0), (0.0, 1.6)):
            line(before, (a.pivot_x - dx, pivot_y - dy), (a.pivot_x + dx, pivot_y + dy), "centre")
    else:
        add(behind, "circle", cx=a.pivot_x, cy=-pivot_y, r=3.6, class_="lock")


def _pad(arm: Element, a: Arm, y: float) -> None:
    """A pad's face on its own radius, as wide as it can be worn."""
    half = min(8.0, a.radius * 0.8)
    sag = a.radius - math.sqrt(a.radius**2 - half**2)
    # bulging toward the lobe: up on a finger, down on a rocker
    side = 1.0 if a.rocker else -1.0
    ends = y + side * sag
    back = ends + side * 3.4
    left, right = num(a.pad_x - half), num(a.pad_x + half)
    face = f"M{left} {num(-ends)} Q{num(a.pad_x)} {num(-(2 * y - ends))} {right} {num(-ends)}"
    add(arm, "path", d=f"{face} V{num(-back)} H{left} Z", class_="lock")


def _beam(through: list[Point], half: tuple[float, ...]) -> list[Point]:
    """An arm through three points, each with its own half height."""
    above = [(x, y + h) for (x, y), h in zip(through, half, strict=True)]
    under = [(x, y - h) for (x, y), h in zip(through, half, strict=True)]
    return [*above, *reversed(under)]


def lobe_outline(law: LiftLaw, base_radius: float, ratio: float) -> list[Point]:
    """The lobe that a flat follower would need for this law: nose down, centre at the origin.

    Contact lies at (R + L) along the follower's axis and dL/dθ across it.
    """
    start, end = law.support_rad
    angles = np.linspace(start, end, 181)
    lift = law.evaluate(angles) / ratio
    slope = law.evaluate(angles, 1) / ratio
    # turned clockwise by a from the nose, the cam shows the follower its own direction (sin a, −cos a)
    reach = base_radius + lift
    x = reach * np.sin(angles) + slope * np.cos(angles)
    y = -reach * np.cos(angles) + slope * np.sin(angles)
    points = [(float(a), float(b)) for a, b in zip(x, y, strict=True)]
    rest = np.linspace(end, start + 2 * math.pi, 90)
    points += [(float(base_radius * math.sin(a)), float(-base_radius * math.cos(a))) for a in rest[1:-1]]
    return points


def lobe(root: Element, g: Geometry, cam_deg: float) -> None:
    """Lobe, base circle and shaft centre; it turns about its centre as the scrubber is moved."""
    x, y = g.cam_x, g.cam_y
    centre = f"{num(x)} {num(-y)}"
    group = add(root, "g", class_="part", data_part="lobe")
    if g.arm is not None and g.arm.rocker:
        # its nose comes up under the pad
        group = add(group, "g", transform=f"rotate(180 {centre})")
    turning = add(group, "g", data_turn=centre, transform=f"rotate({num(cam_deg)} {centre})")
    if g.law is not None:
        outline = [(px + x, py + y) for px, py in lobe_outline(g.law, g.base_radius, g.ratio)]
        polygon(turning, outline, "lobe")
    add(turning, "circle", cx=x, cy=-y, r=g.base_radius, class_="base-circle" if g.law else "lobe")
    for a in (0, 90):
        dx, dy = 1.6 * math.cos(math.radians(a)), 1.6 * math.sin(math.radians(a))
        line(turning, (x - dx, y - dy), (x + dx, y + dy), "centre")
    add(turning, "circle", cx=x, cy=-(y - g.base_radius * 0.62), r=0.7, class_="nose-dot")
