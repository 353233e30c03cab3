"""Packs that could be fitted instead, and other heights: each tried on the same head, everything else left alone."""

from dataclasses import dataclass

from arcstack.assess.context import Context
from arcstack.checks import Evidence
from arcstack.document import FIELDS, SLOTS, Build, Entry, height_with, outdated
from arcstack.document.parts import Candidate, HeightBasis, SpringPack, Stack, trimmed

_PACK = tuple(SpringPack.model_fields)


def is_empty(candidate: Candidate) -> bool:
    """True for a slot that nothing was entered in."""
    return candidate == Candidate()


def filled(build: Build, side: str) -> tuple[int, ...]:
    """Slots of a side that hold a pack."""
    return tuple(s for s in SLOTS if not is_empty(build.side(side).candidate(s)))


def with_stack(build: Build, side: str, stack: Stack) -> Build:
    return build.model_copy(update={side: build.side(side).model_copy(update={"stack": stack})})


def with_candidate(build: Build, side: str, slot: int, candidate: Candidate) -> Build:
    """The build with a pack in a slot. Raises ``ValueError`` for a slot that is none."""
    build.side(side).candidate(slot)
    held = build.side(side).candidates
    packs = [*held, *[Candidate()] * (slot - len(held))]
    packs[slot - 1] = candidate
    kept = trimmed(tuple(packs), Candidate())
    return build.model_copy(update={side: build.side(side).model_copy(update={"candidates": kept})})


def fitted(build: Build, side: str, slot: int) -> Build:
    """The build with a slot's pack in place of the fitted one, and its own retainer where it has one.

    A height taken as fitted follows the retainer where both offsets are known; else it is outdated.
    """
    stack, pack = build.side(side).stack, build.side(side).candidate(slot)
    changed: dict[str, object] = {name: getattr(pack, name) for name in _PACK}
    own = {name: entry for name, field in _RETAINER.items() if (entry := getattr(pack, field)) is not None}
    if own:
        changed["retainer"] = stack.retainer.model_copy(update=own)
        told = f"Retainer of {pack.name or 'another pack'} fitted since it was read"
        # one that does not say its offset does not have the fitted one's
        theirs = stack.retainer.model_copy(update=own | {"offset": own.get("offset")})
        changed["open_height"] = height_with(stack, stack.model_copy(update={"retainer": theirs}), told)
    made = with_stack(build, side, stack.model_copy(update=changed))
    return outdated(build, made, ("stack.outer", "stack.inner", "stack.retainer"))


_RETAINER = {"step": "retainer_step", "offset": "retainer_offset", "mass": "retainer_mass"}
"""Figures of a retainer, and where a candidate pack carries its own."""


def exchanged(build: Build, side: str, slot: int) -> Build:
    """The build with a slot's pack fitted, and the pack that was fitted in that slot."""
    taken_off = as_candidate(build, side, build.side(side).candidate(slot))
    return with_candidate(fitted(build, side, slot), side, slot, taken_off)


def as_candidate(build: Build, side: str, against: Candidate | None = None) -> Candidate:
    """The fitted pack as a candidate; its retainer goes along where ``against`` would change it."""
    stack = build.side(side).stack
    own = {name: getattr(stack, name) for name in _PACK}
    own["name"] = stack.name or stack.outer.code
    found = Candidate(advised=stack.target_height, **own)
    if against is not None:
        # its retainer goes along where the other pack brings one of its own
        brought = {
            field: getattr(stack.retainer, name)
            for name, field in _RETAINER.items()
            if getattr(against, field) is not None
        }
        found = found.model_copy(update=brought)
    return found


def at_height(build: Build, side: str, height_mm: float, evidence: Evidence = Evidence.CALCULATED) -> Build:
    """The build with its outer spring at a height, with whatever shims that takes."""
    entry = Entry(value=height_mm, typed=f"{height_mm:.12g} mm", evidence=evidence)
    stack = build.side(side).stack.model_copy(
        update={
            "open_height": entry,
            "height_basis": HeightBasis.AS_FITTED,
            "shims": (),
        }
    )
    return with_stack(build, side, stack)


@dataclass(frozen=True)
class TriedPack:
    """A pack on the head: slot 0 is the fitted one. ``height_mm`` is where its outer spring stands, if moved."""

    slot: int
    name: str
    ctx: Context
    height_mm: float | None = None


def tried(ctx: Context, height_mm: float | None = None, own_height: bool = False) -> list[TriedPack]:
    """The fitted pack, then each filled slot, at one height (``None``: as the head stands) or each at its own."""
    build, side = ctx.build, ctx.side_name
    found = []
    for slot in (0, *filled(build, side)):
        here = build if slot == 0 else fitted(build, side, slot)
        pack = build.side(side).stack if slot == 0 else build.side(side).candidate(slot)
        label = pack.name or pack.outer.code or ("fitted pack" if slot == 0 else f"candidate {slot}")
        at = height_mm
        if own_height:
            advised = pack.advised if isinstance(pack, Candidate) else build.side(side).stack.target_height
            at = advised.value if advised is not None else None
        if at is not None:
            here = at_height(here, side, at)
        found.append(TriedPack(slot, label, ctx.of(here), at))
    return found


def spring_height(ctx: Context, height_mm: float) -> float:
    """A height that a valve spring can stand at, mm. Raises ``QuantityError``."""
    spec = FIELDS[f"{ctx.side_name}.stack.target_height"].quantity
    assert spec is not None
    spec.check(height_mm)
    return height_mm
