"""Shelves drawn at random about the figures of a build: parts that fit, nearly fit, and lack what is asked for."""

import random
from uuid import UUID

from arcstack.checks import Evidence
from arcstack.document import Build, Entry
from arcstack.document.parts import FollowerKind
from arcstack.shelf import KINDS, PartKind, ShelfPart, changed

K = PartKind

_RATIOS = "0 1.52\n3 1.58\n6.5 1.56"


class Drawn:
    """Draws parts of every kind about what stands on one side of a build."""

    def __init__(self, seed: int, build: Build, side: str, lacks: float = 0.04) -> None:
        self._random = random.Random(seed)
        self._build, self._side, self._lacks = build, build.side(side), lacks
        self._made = 0

    def shelf(self, of: int = 3) -> list[ShelfPart]:
        """So many parts of each kind that this head can have."""
        runs = PartKind(self._build.engine.follower.value)
        kinds = [k for k in K if k.value not in tuple(FollowerKind) or k is runs]
        return [self.part(kind) for kind in kinds if kind not in (K.SPRING, K.LASH_SHIM) for _ in range(of)]

    def part(self, kind: PartKind) -> ShelfPart:
        self._made += 1
        part = ShelfPart(
            key=UUID(int=self._random.getrandbits(128)).hex, kind=kind, name=f"{kind.value} {self._made}",
            on_hand=self._random.choice((0, 8, 16)), body=KINDS[kind].model(),
        )  # fmt: skip
        if self._random.random() > self._lacks:
            part = changed(part, "price", f"{self._random.uniform(1, 90):.2f}")
        for path, text in self._figures(kind).items():
            if self._random.random() > self._lacks or path.startswith(("ratio", "arm", "pad_arm", "pad_height")):
                part = changed(part, path, text, Evidence.PRINTED)
        return part

    def _near(self, value: float, by: float, unit: str) -> str:
        return f"{value + self._random.uniform(-by, by):.4f} {unit}"

    def _one_of(self, *texts: str) -> str:
        return self._random.choice(texts)

    def _figures(self, kind: PartKind) -> dict[str, str]:
        near, one_of, stack = self._near, self._one_of, self._side.stack
        stem = _of(stack.valve.stem, 6.0)
        if kind is K.VALVE:
            return {
                "head": near(_of(stack.valve.head, 33.0), 1.5, "mm"), "stem": f"{stem} mm",
                "mass": near(45.0, 10.0, "g"), "groove_offset": one_of("none", near(0.3, 0.3, "mm")),
                "lock_end": one_of(f"{stem} mm", near(stem, 0.05, "mm")), "groove": one_of("one round", "several beads"),
                "beads": one_of("2", "3"), "groove_below_tip": near(5.0, 0.6, "mm"),
            }  # fmt: skip
        if kind is K.RETAINER:
            return {
                "offset": one_of("none", near(0.0, 1.0, "mm")), "step": near(1.4, 0.4, "mm"),
                "depth": near(3.4, 0.6, "mm"), "mass": near(9.0, 3.0, "g"), "taper": one_of("10 deg", "7 deg"),
                "locks_outside": one_of("11.20 mm", "11.25 mm"), "outer_step": near(20.5, 0.2, "mm"),
                "inner_step": near(14.6, 0.15, "mm"), "outside": near(28.0, 0.8, "mm"),
            }  # fmt: skip
        if kind is K.LOCKS:
            return {
                "offset": one_of("none", near(0.0, 0.6, "mm")), "mass": near(2.2, 0.4, "g"), "stem": f"{stem} mm",
                "groove": one_of("one round", "several beads"), "beads": one_of("2", "3"),
                "taper": one_of("10 deg", "7 deg"), "outside": one_of("11.20 mm", "11.12 mm", "11.25 mm"),
                "above_groove": near(3.4, 0.3, "mm"),
            }  # fmt: skip
        if kind is K.LOCATOR:
            return {
                "thickness": one_of("none", near(0.9, 0.4, "mm")), "step": one_of("none", near(0.9, 0.3, "mm")),
                "material": one_of("hardened steel", "soft steel"), "base": one_of("spigot", "cup", "nothing"),
                "bore": near(11.2, 0.1, "mm"), "outside": near(28.7, 0.4, "mm"), "spigot": near(20.4, 0.2, "mm"),
                "inner_spigot": near(14.5, 0.2, "mm"),
            }  # fmt: skip
        if kind is K.SEAL:
            return {
                "stem": f"{stem} mm", "guide": "11 mm", "outside": near(13.2, 0.5, "mm"), "height": near(9.0, 1.5, "mm"),
                "held": one_of("groove in the guide", "end of the guide", "part of the locator"),
            }  # fmt: skip
        if kind is K.GUIDE:
            return {"outside": near(11.0, 0.05, "mm"), "height": near(13.0, 1.0, "mm"), "seal_groove": "12 mm"}
        if kind is K.CAP:
            return {
                "inside": one_of("none", near(stem + 0.05, 0.05, "mm")), "depth": near(1.4, 0.4, "mm"),
                "mass": near(1.5, 0.5, "g"),
            }  # fmt: skip
        if kind is K.SHIM:
            return {
                "thickness": near(0.5, 0.3, "mm"), "inside": near(11.4, 0.3, "mm"), "outside": near(28.4, 0.8, "mm"),
                "hardened": one_of("hardened", "hardened", "not hardened"),
            }  # fmt: skip
        if kind is K.PACK:
            return self._pack()
        if kind is K.BUCKET:
            return {
                "mass": near(37.0, 6.0, "g"), "diameter": near(35.0, 1.5, "mm"), "inside": near(32.0, 1.0, "mm"),
                "materials": one_of("steel on hardened steel", "coated on hardened steel"), "offset": "none",
            }  # fmt: skip
        return {
            "mass": near(24.0, 5.0, "g"), "ratio": near(1.6, 0.05, ""), "pad_radius": near(24.0, 4.0, "mm"),
            "pad_arm": near(24.0, 0.8, "mm"), "pad_height": near(2.5, 0.5, "mm"), "ratio_table": _RATIOS, "arm": near(38.0, 2.0, "mm"), "arm_height": near(4.5, 1.0, "mm"),
            "meets": one_of("pad", "roller"),
        }  # fmt: skip

    def _pack(self) -> dict[str, str]:
        near, one_of = self._near, self._one_of
        found = {
            "pack": one_of("dual", "dual", "dual", "single", "assembled"),
            "damping": one_of("none", "flat damper"),
        }
        for name, height, load, rate, wire, outside in (
            ("outer", 36.0, 255.0, 31.0, 3.75, 28.2), ("inner", 33.5, 115.0, 13.0, 2.6, 20.0),
        ):  # fmt: skip
            k, seat = rate * self._random.uniform(0.7, 1.4), load * self._random.uniform(0.6, 1.4)
            shape = self._random.random()
            own = {
                "solid": near(22.5 if name == "outer" else 21.0, 1.0, "mm"), "mass": near(40.0 if name == "outer" else 17.0, 5.0, "g"),
                "outside": near(outside, 0.1, "mm"), "wire": f"{wire} mm", "coils": near(6.5 if name == "outer" else 8.0, 0.8, ""),
            }  # fmt: skip
            if shape < 0.25:
                # stiffens as it closes, as a tester finds it
                rows = [
                    (h, seat + k * (height - h) * (1.0 + 0.02 * (height - h))) for h in (38.0, height, 32.0, 28.0, 24.0)
                ]
                own["table"] = "\n".join(f"{h:.2f} {max(f, 1.0):.2f}" for h, f in rows)
            elif shape < 0.45:
                # made for a lower head: slack where this one is shut
                own |= {"rate": f"{k:.3f} N/mm", "free_length": near(height - 0.5, 1.0, "mm")}
            else:
                own |= {"height_1": f"{height} mm", "load_1": f"{seat:.2f} N"}
                own |= {"height_2": f"{height - 10} mm", "load_2": f"{seat + 10 * k:.2f} N"}
                if shape > 0.8:
                    own |= {"rate": f"{k * 1.03:.3f} N/mm"}
            found |= {f"{name}.{path}": text for path, text in own.items()}
        return found


def _of(entry: Entry | None, otherwise: float) -> float:
    return entry.value if entry is not None else otherwise
