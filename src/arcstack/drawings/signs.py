"""Signs of wear as small drawings: the part, and its mark in straight and in raking light."""

from collections.abc import Callable, Mapping
from types import MappingProxyType
from xml.etree.ElementTree import Element

from markupsafe import Markup

from arcstack.drawings.svg import add, picture, render

WIDE, HIGH = 120.0, 84.0

Mark = Callable[[Element, str], None]


def _path(root: Element, d: str, class_: str) -> None:
    add(root, "path", d=d, class_=class_)


# -- parts


def _valve(root: Element) -> None:
    _path(root, "M54 6 H66 V44 Q68 56 98 60 V66 L90 74 H30 L22 66 V60 Q52 56 54 44 Z", "sign-part")


def _seat(root: Element) -> None:
    _path(root, "M8 24 H112 V74 H100 L84 44 H36 L20 74 H8 Z", "sign-cast")
    _path(root, "M36 44 L20 74 H28 L42 48 Z M84 44 L100 74 H92 L78 48 Z", "sign-part")


def _tip(root: Element) -> None:
    add(root, "circle", cx=60.0, cy=42.0, r=32.0, class_="sign-part")


def _lobe(root: Element) -> None:
    _path(root, "M60 6 C74 6 80 24 84 40 A27 27 0 1 1 36 40 C40 24 46 6 60 6 Z", "sign-part")
    add(root, "circle", cx=60.0, cy=50.0, r=5.0, class_="sign-hole")
    # it turns with its nose to the left: the right flank is the closing one
    _path(root, "M49 54 A11.5 11.5 0 0 0 71 54 l1 6 M71 54 l-6 2", "sign-axis")


def _bucket(root: Element) -> None:
    add(root, "circle", cx=60.0, cy=42.0, r=36.0, class_="sign-part")


def _bore(root: Element) -> None:
    _path(root, "M12 8 H36 V76 H12 Z M84 8 H108 V76 H84 Z", "sign-cast")
    _path(root, "M38 16 H82 V70 H76 V26 H44 V70 H38 Z", "sign-part")


def _spring(root: Element) -> None:
    for n in range(6):
        y = 10.0 + n * 12.0
        _path(root, f"M34 {y + 6} Q60 {y - 6} 86 {y} L86 {y + 4} Q60 {y - 1} 34 {y + 11} Z", "sign-part")


def _journal(root: Element) -> None:
    _path(root, "M10 24 H110 V60 H10 Z", "sign-part")
    _path(root, "M4 14 H12 V70 H4 Z M108 14 H116 V70 H108 Z", "sign-cast")


def _seal(root: Element) -> None:
    _path(root, "M38 12 H82 L86 26 V70 H74 V30 H46 V70 H34 V26 Z", "sign-dark")
    _path(root, "M54 4 H66 V80 H54 Z", "sign-part")


def _retainer(root: Element) -> None:
    _path(root, "M14 20 H106 V34 H88 V48 H72 L66 60 H54 L48 48 H32 V34 H14 Z", "sign-part")


def _locks(root: Element) -> None:
    _path(root, "M16 30 H42 L50 66 H34 L26 48 H16 Z M104 30 H78 L70 66 H86 L94 48 H104 Z", "sign-cast")
    _path(root, "M52 4 H68 V80 H52 Z", "sign-part")


def _chamber(root: Element) -> None:
    _path(root, "M8 62 Q60 -18 112 62 V74 H8 Z", "sign-cast")
    add(root, "circle", cx=40.0, cy=44.0, r=15.0, class_="sign-part")
    add(root, "circle", cx=82.0, cy=46.0, r=13.0, class_="sign-part")


def _lash(root: Element) -> None:
    _path(root, "M14 10 V72 H112", "sign-axis")


# -- marks


def _lines(*ds: str) -> Mark:
    def drawn(root: Element, class_: str) -> None:
        for d in ds:
            _path(root, d, class_)

    return drawn


def _spots(*at: tuple[float, float, float]) -> Mark:
    def drawn(root: Element, class_: str) -> None:
        for x, y, r in at:
            add(root, "circle", cx=x, cy=y, r=r, class_=class_)

    return drawn


def _rings(*radii: float, dashed: bool = False) -> Mark:
    def drawn(root: Element, class_: str) -> None:
        for r in radii:
            add(root, "circle", cx=60.0, cy=42.0, r=r, class_=f"{class_}{' broken' if dashed else ''}")

    return drawn


_DRAWN: Mapping[str, tuple[Callable[[Element], None], Mark]] = MappingProxyType(
    {
        "seat_hammered": (_seat, _lines("M38 46 Q30 56 24 70", "M82 46 Q90 56 96 70", "M34 52 l-4 8 M86 52 l4 8")),
        "face_step": (_valve, _lines("M24 64 h6 v4 h6", "M96 64 h-6 v4 h-6")),
        "tip_dents": (_tip, _spots((48, 34, 5), (70, 30, 4), (62, 52, 6), (44, 54, 3), (76, 50, 4))),
        "drag_lines": (_bore, _lines("M44 20 V68 M50 24 V60 M70 22 V66 M76 26 V64 M80 18 V60")),
        "closing_flank": (_lobe, _lines("M72 16 Q80 28 83 42 L76 44 Q74 30 66 18 Z")),
        "opening_flank": (_lobe, _lines("M48 16 Q40 28 37 42 L44 44 Q46 30 54 18 Z")),
        "crown_dished": (_bucket, _rings(12.0, 8.0)),
        "rings_even": (_bucket, _rings(10.0, 17.0, 24.0, 31.0)),
        "rings_gone": (
            _bucket, _lines("M30 30 L90 34 M28 40 L92 44 M32 52 L88 56", "M92 24 l6 -4 M96 40 l7 0 M92 58 l6 5"),
        ),
        "base_rub": (_lobe, _lines("M35 58 A27 27 0 0 0 85 58 L80 56 A22 22 0 0 1 40 56 Z")),
        "base_clean": (_lobe, _lines("M44 70 l6 4 M60 72 l0 6 M76 70 l-6 4")),
        "lash_closing": (_lash, _lines("M22 22 L50 34 V24 L78 42 V30 L106 56")),
        "journals_scored": (_journal, _lines("M14 32 H106 M14 38 H80 M30 46 H106 M14 52 H100")),
        "journals_perfect": (_journal, _lines("M20 30 h14 M20 35 h8")),
        "stem_blue": (_valve, _lines("M54 26 H66 V46 H54 Z")),
        "bent": (_valve, _lines("M60 6 V40 Q60 58 78 72")),
        "spring_broken": (_spring, _lines("M52 36 l8 10 M64 32 l-4 14 M46 44 l30 -12")),
        "spring_pitted": (_spring, _spots((54, 38, 3), (66, 34, 2.4), (58, 46, 2))),
        "springs_lost": (_spring, _lines("M100 14 V66 M94 58 l6 8 l6 -8")),
        "springs_kept": (_spring, _lines("M98 14 H108 M98 66 H108 M103 14 V66")),
        "seal_off": (_seal, _lines("M28 20 Q60 2 92 20", "M24 64 a5 4 0 1 0 10 0 a5 4 0 1 0 -10 0")),
        "retainer_marked": (_retainer, _lines("M52 60 H68", "M50 56 l4 4 M70 56 l-4 4")),
        "rust": (_spring, _spots((42, 20, 3), (58, 28, 2.4), (76, 42, 3), (50, 56, 2.6), (70, 64, 2.2), (44, 40, 2))),
        "lock_deep": (_locks, _lines("M34 18 V30 M86 18 V30 M30 26 l4 4 l4 -4 M82 26 l4 4 l4 -4")),
        "inner_wrong": (_spring, _lines("M60 4 V24 M54 18 l6 8 l6 -8 M60 80 V60 M54 66 l6 -8 l6 8")),
        "foreign": (_chamber, _lines("M34 38 l6 4 l-2 7 l8 -2 M76 40 l7 3 l-3 8", "M56 24 l6 -4 l2 7")),
        "carbon": (_chamber, _spots((30, 60, 2), (52, 30, 2), (66, 28, 2), (98, 60, 2), (60, 64, 2))),
        "coating": (_bucket, _rings(22.0, dashed=True)),
        "shades": (_chamber, _lines("M60 16 V74")),
        "stems_clean": (_valve, _lines("M57 10 V38 M63 10 V38")),
        "part_wrong": (_locks, _lines("M78 30 H104 V48 H94 L86 66 H70 Z M80 34 L100 44 M100 34 L80 44")),
        "seat_burnt": (_valve, _lines("M80 58 l6 16 l8 -4 l-5 -14 Z", "M84 62 l4 8 M90 60 l2 7")),
        "off_square": (_seat, _lines("M36 46 L22 74 L29 74 L43 48 Z", "M84 46 L98 74")),
        "lobe_scuffed": (_lobe, _lines("M50 10 Q60 4 70 10 M46 17 Q60 8 74 17 M42 28 Q60 18 78 28")),
        "washed": (_chamber, _lines("M18 62 q6 -16 12 -6 M26 70 q8 -14 16 -4 M56 24 q4 8 0 12 q-4 -4 0 -12")),
        "piston_mark": (_chamber, _lines("M28 52 A15 15 0 0 0 52 52 L49 48 A11 11 0 0 1 31 48 Z")),
        "struck": (_chamber, _lines("M58 28 l4 3 l4 -3 M60 56 l3 4 l5 -2 M20 66 l4 -3 l3 4 M98 66 l3 -4 l4 3")),
        "film": (_chamber, _lines("M50 66 Q60 60 70 66 M48 71 Q60 64 72 71")),
    }
)  # fmt: skip


def sign_drawing(name: str, title: str) -> Markup:
    """One sign in straight light on the left and raking light on the right. Raises ``KeyError`` for an unknown one."""
    part, mark = _DRAWN[name]
    root = picture("sign-drawing", (0.0, 0.0, WIDE * 2 + 8, HIGH), f"{title}, in straight and in raking light")
    straight = add(root, "g", class_="straight")
    part(straight)
    mark(straight, "sign-mark")
    raking = add(root, "g", class_="raking", transform=f"translate({WIDE + 8} 0)")
    add(raking, "rect", x=0.0, y=0.0, width=WIDE, height=HIGH, class_="sign-night")
    part(raking)
    mark(add(raking, "g", transform="translate(1.6 1.6)"), "sign-shadow")
    mark(raking, "sign-glint")
    return render(root)


def drawn_signs() -> frozenset[str]:
    """Every sign that has a drawing."""
    return frozenset(_DRAWN)
