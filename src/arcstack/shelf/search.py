"""Parts found by words, or by dimension: “seal, stem 6.0, guide 11, no taller than 9.5”."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from arcstack.document import Entry
from arcstack.document import Kind as FieldKind
from arcstack.errors import QuantityError
from arcstack.shelf.part import KINDS, PartKind, ShelfPart, fields_of, title_of
from arcstack.units import LENGTH, System, parse, show

ALIKE = 0.005
"""Share by which a figure may differ from the one that was named and still count as it."""

LEAST_ALIKE_MM = 0.05


class Sense(StrEnum):
    ABOUT = "about"
    AT_MOST = "at most"
    AT_LEAST = "at least"


@dataclass(frozen=True)
class Wanted:
    """One figure asked for: which field's words, which way, and its text."""

    words: tuple[str, ...]
    sense: Sense
    text: str


@dataclass(frozen=True)
class Query:
    """What was asked: a kind or any, words to be found, and figures; ``not_understood`` is said as it was typed."""

    kind: PartKind | None
    words: tuple[str, ...]
    figures: tuple[Wanted, ...]

    def said(self, system: System = System.MM) -> str:
        """How the question was understood, in words."""
        parts = [KINDS[self.kind].plural.lower()] if self.kind else []
        parts += [f"“{w}”" for w in self.words]
        for wanted in self.figures:
            kinds = [self.kind] if self.kind else list(PartKind)
            titles = {title_of(k, p) for k in kinds for p in _matching(k, wanted.words)}
            named = sorted(titles)[0].lower() if titles else " ".join(wanted.words)
            parts.append(f"{named} {wanted.sense.value} {wanted.text}")
        return ", ".join(parts)


_NUMBER = r"[-+−]?(?:\d+(?:[.,]\d+)?|[.,]\d+)\s*(?:mm|in|inch|\"|thou|g|kg|oz|n/mm|n|lbf?(?:/in)?|deg|°)?"
_SENSES = (
    (re.compile(r"^(?P<words>.*?)\s*(?:no (?:taller|higher|longer|thicker|wider|more|larger|bigger|heavier) than|"
                r"at most|up to|under|below|max(?:imum)?|<=?|≤)\s*(?P<text>" + _NUMBER + r")$"), Sense.AT_MOST),
    (re.compile(r"^(?P<words>.*?)\s*(?:no (?:shorter|lower|thinner|less|smaller|lighter) than|at least|over|above|"
                r"from|min(?:imum)?|>=?|≥)\s*(?P<text>" + _NUMBER + r")$"), Sense.AT_LEAST),
    (re.compile(r"^(?P<words>.*?[^\d\s.,+−-])\s*(?:about|of|=|:)?\s*(?P<text>" + _NUMBER + r")$"), Sense.ABOUT),
)  # fmt: skip

_HEIGHT = re.compile(r"no (taller|higher|shorter|lower|heavier|lighter|thicker|thinner|longer)")
_MEANT = {
    "taller": "height", "higher": "height", "shorter": "height", "lower": "height", "heavier": "mass",
    "lighter": "mass", "thicker": "thickness", "thinner": "thickness", "longer": "length",
    "bore": "bore", "od": "outside", "id": "inside", "weight": "mass", "dia": "diameter", "ø": "diameter",
}  # fmt: skip
_SKIPPED = {"a", "an", "the", "for", "with", "and", "of", "than", "no"}


def read_query(text: str) -> Query:
    """What a search asks: terms apart by commas; one may name a kind, one with a number asks for a figure.

    >>> q = read_query("seal, stem 6.0, guide 11, no taller than 9.5")
    >>> q.kind.value, [(w.words, w.sense.value, w.text) for w in q.figures]
    ('seal', [(('stem',), 'about', '6.0'), (('guide',), 'about', '11'), (('height',), 'at most', '9.5')])
    >>> read_query("titanium, retainers").words, read_query("R-7").words
    (('titanium',), ('r-7',))
    """
    kind, words, figures = None, [], []
    for raw in re.split(r"[,;](?!\d)", text):
        term = " ".join(raw.casefold().split())
        if not term:
            continue
        found = _kind(term)
        if found is not None and kind is None:
            kind = found
            continue
        wanted = _figure(term, kind)
        if wanted is None:
            rest = [w for w in term.split() if w not in _SKIPPED]
            first = _kind(rest[0]) if rest and kind is None else None
            if first is not None:
                kind, rest = first, rest[1:]
                wanted = _figure(" ".join(rest), kind)
                if wanted is not None:
                    figures.append(wanted)
                    continue
            words += rest
        else:
            figures.append(wanted)
    return Query(kind, tuple(words), tuple(figures))


def _kind(term: str) -> PartKind | None:
    for kind, about in KINDS.items():
        names = {kind.value, about.title.casefold(), about.plural.casefold(), f"{kind.value}s"}
        if term in names or (kind is PartKind.LOCATOR and term in ("seat", "seats")):
            return kind
        if kind is PartKind.PACK and term in ("pack", "packs", "spring pack", "springs"):
            return kind
    return None


def _figure(term: str, kind: PartKind | None) -> Wanted | None:
    """A term that asks for a figure which some part has; None for plain words."""
    said = _HEIGHT.search(term)
    for pattern, sense in _SENSES:
        match = pattern.match(term)
        if match is None:
            continue
        words = [_MEANT.get(w, w) for w in re.findall(r"[^\W\d_]+|ø", match["words"]) if w not in _SKIPPED]
        if said is not None:
            words = [_MEANT[said[1]], *[w for w in words if w != said[1]]]
        if words and any(_matching(k, tuple(words)) for k in ([kind] if kind else PartKind)):
            return Wanted(tuple(words), sense, match["text"])
    return None


def _matching(kind: PartKind, words: tuple[str, ...]) -> list[str]:
    """Paths of a kind's figures that hold each word in their name or label, the closest first."""
    found = []
    for path, spec in fields_of(kind).items():
        if spec.kind is not FieldKind.QUANTITY:
            continue
        said = re.findall(r"[^\W_]+", f"{path} {spec.label}".casefold())
        own = path.rpartition(".")[2].split("_")
        if all(any(s == w or (len(w) > 2 and s.startswith(w)) for s in said) for w in words):
            found.append((0 if own == list(words) else 1 if words[0] in own else 2, len(said), path))
    found.sort()
    best = found[0][0] if found else 0
    return [path for rank, _, path in found if rank == best]


def _holds(part: ShelfPart, wanted: Wanted, system: System) -> bool:
    for path in _matching(part.kind, wanted.words):
        spec = fields_of(part.kind)[path].quantity
        value = part.at(path)
        if spec is None or not isinstance(value, Entry):
            continue
        try:
            asked = parse(wanted.text, spec.dimension, spec.dimension.unit(system)).value
        except QuantityError:
            continue
        near = max(ALIKE * abs(asked), LEAST_ALIKE_MM if spec.dimension is LENGTH else 0.0)
        held = {
            Sense.ABOUT: abs(value.value - asked) <= near,
            Sense.AT_MOST: value.value <= asked + 1e-9,
            Sense.AT_LEAST: value.value >= asked - 1e-9,
        }[wanted.sense]
        if held:
            return True
    return False


def matches(part: ShelfPart, query: Query, system: System = System.MM) -> bool:
    """Whether a part is what was asked for; a figure that is not known is not what was asked for."""
    if query.kind is not None and part.kind is not query.kind:
        return False
    said = f"{part.kind.value} {part.name} {part.number} {part.note} {part.second_source} {_choices(part)}".casefold()
    return all(w in said for w in query.words) and all(_holds(part, w, system) for w in query.figures)


def _choices(part: ShelfPart) -> str:
    """The words that a part holds, for searching."""
    found = []
    for path, spec in fields_of(part.kind).items():
        if spec.kind is not FieldKind.QUANTITY and not spec.lists:
            found.append(str(part.at(path)))
    return " ".join(t for t in found if t and t != "not stated")


def found(parts: Iterable[ShelfPart], query: Query, system: System = System.MM) -> list[ShelfPart]:
    """The parts that a search asks for, those on hand first, then by name."""
    rows = [p for p in parts if matches(p, query, system)]
    return sorted(rows, key=lambda p: (p.kind.value if query.kind is None else "", p.on_hand == 0, p.name.casefold()))


def summary(part: ShelfPart, system: System = System.MM) -> str:
    """The figures of a part that tell it from others, for a list."""
    rows = []
    for path in KINDS[part.kind].tells:
        value, spec = part.at(path), fields_of(part.kind)[path].quantity
        name = path.replace(".", " ").replace("_", " ")
        if isinstance(value, Entry) and spec is not None:
            rows.append(f"{name} {show(value.value, spec.dimension, system)}")
        elif spec is None and value and str(value) != "not stated":
            rows.append(str(value))
    return " · ".join(rows)
