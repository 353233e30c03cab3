"""What stands, written plainly from the rule and sharing no code with the program: acts in their order, and after any of
them what was measured of a few figures at two places."""

from dataclasses import dataclass, field

FIELDS = (
    "stack.retainer.code", "stack.retainer.offset", "stack.locks.code", "stack.locator.thickness", "stack.outer.code",
    "cam.code", "stack.retainer.step", "stack.valve.length",
)  # fmt: skip

RESTS = {
    "installed_height": (
        "stack.retainer.code", "stack.retainer.offset", "stack.locks.code", "stack.locator.thickness",
        "stack.valve.length",
    ),
    "lobe_lift": ("cam.code",),
    "shims": (),
    "outer.solid": ("stack.outer.code",),
    "tip_height": ("stack.valve.length",),
}  # fmt: skip
"""What each reading is true of, of the fields that are played with."""

CUT_MOVES = ("installed_height", "tip_height")


@dataclass
class Read:
    """A reading as it was said."""

    key: str
    place: str
    item: str
    value: float
    then: dict[str, str]
    cuts: int
    shims: float | None
    off: bool = False
    first: dict[str, str] = field(default_factory=dict)
    """What was said first of a field that had said nothing: it was said of the very part that was read."""


class Shadow:
    """Plays the acts one by one."""

    def __init__(self, said: dict[str, str]) -> None:
        self.said = dict(said)
        self.undo: list[tuple[dict[str, str], dict[str, str] | None]] = []
        self.reads: list[Read] = []
        self.cuts: dict[str, int] = {}
        self.at: dict[str, str] = {}
        self.height_with: dict[str, str] | None = None

    # -- acts

    def state(self, path: str, value: str) -> None:
        if self.said[path] == value:
            return
        self._step()
        if not self.said[path] and value:
            for r in self.reads:
                if path in r.then and not r.then[path]:
                    r.first.setdefault(path, value)
            if self.height_with is not None and path in self.height_with and not self.height_with[path]:
                self.height_with[path] = value
        self.said[path] = value

    def take_height(self) -> None:
        """The open height of the design, read with what is fitted now."""
        self._step()
        self.height_with = {p: self.said[p] for p in RESTS["installed_height"]}

    def _step(self) -> None:
        self.undo.append((dict(self.said), dict(self.height_with) if self.height_with is not None else None))

    def back(self) -> bool:
        if not self.undo:
            return False
        before = dict(self.said)
        self.said, self.height_with = self.undo.pop()
        # what comes back known is said again, of whatever was read while it said nothing
        for path, value in self.said.items():
            if value and not before[path]:
                for r in self.reads:
                    if path in r.then and not r.then[path]:
                        r.first.setdefault(path, value)
        return True

    def read(self, key: str, place: str, value: float, item: str = "") -> None:
        then = {p: self.said[p] for p in RESTS[key]}
        self.reads.append(Read(key, place, item, value, then, self.cuts.get(place, 0), self.shims(place)))

    def take_back(self, key: str, place: str) -> None:
        own = [r for r in self.reads if (r.key, r.place) == (key, place) and not r.off]
        if own:
            own[-1].off = True

    def cut(self, place: str) -> None:
        self.cuts[place] = self.cuts.get(place, 0) + 1

    def put(self, item: str, place: str) -> None:
        for known, where in list(self.at.items()):
            if where == place:
                self.at[known] = ""
        self.at[item] = place

    # -- what stands

    def last(self, key: str, place: str, item: str = "") -> Read | None:
        own = [r for r in self.reads if r.key == key and not r.off and (r.item == item if item else r.place == place)]
        return own[-1] if own else None

    def shims(self, place: str) -> float | None:
        found = [r for r in self.reads if (r.key, r.place) == ("shims", place) and not r.off]
        return found[-1].value if found else DESIGN_SHIMS

    def stands(self, r: Read) -> bool:
        for path, was in r.then.items():
            now = self.said[path]
            if now != was and not (not was and now == r.first.get(path)):
                return False
        if r.key in CUT_MOVES and self.cuts.get(r.place, 0) > r.cuts:
            return False
        return r.key != "installed_height" or r.shims == self.shims(r.place)

    def status(self, key: str, place: str) -> str:
        r = self.last(key, place)
        return "unread" if r is None else "stands" if self.stands(r) else "stale"

    def height_measured(self, place: str) -> bool:
        """Installed height measured at a place: it was read there and stands, and so were the shims under it."""
        return self.status("installed_height", place) == "stands" and self.status("shims", place) == "stands"

    def reserve_measured(self, place: str) -> bool:
        item = next((i for i, where in self.at.items() if where == place), "")
        solid = self.last("outer.solid", place, item) if item else None
        return (
            self.height_measured(place)
            and self.status("lobe_lift", place) == "stands"
            and solid is not None
            and self.stands(solid)
        )

    def design_height_stands(self) -> bool:
        return self.height_with is not None and all(self.said[p] == was for p, was in self.height_with.items())


DESIGN_SHIMS = 0.75
"""What the design lays under each spring, mm: no reading, and known."""
