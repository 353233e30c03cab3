"""Every check that rests on heights, masses and loads together, for one pack and any number of trains at once."""

import math
from collections.abc import Hashable, Mapping
from dataclasses import dataclass, fields
from functools import partial

import numpy as np
from numpy.typing import NDArray

from arcstack.assess import coil, spring
from arcstack.assess.context import Context, known
from arcstack.assess.half_width import unread
from arcstack.cached import cached_property
from arcstack.checks.verdict import fails_beyond
from arcstack.document import Absent, amount
from arcstack.document.parts import Pack
from arcstack.mech import mass as mass_model
from arcstack.mech import stack as heights
from arcstack.mech.cam.law import Array
from arcstack.mech.control import RigidTrain, cam_rad_per_s, may_part, separation_omega2, separation_rpm
from arcstack.mech.spring import fatigue, stress
from arcstack.mech.spring.pack import Fitted, FittedPack, LoadCurve
from arcstack.mech.spring.rate import LinearSpring
from arcstack.settings import setting
from arcstack.specify.head import HeadFacts, Pressed
from arcstack.specify.lines import Planes

NAN = float("nan")
AT_ONCE = int(setting("specify.samples_at_once"))
LOAD_STEP_N = setting("specify.load_step")
MASS_STEP_KG = setting("specify.mass_step")
MASS = "moving mass"
"""Stands for it among the figures of trains."""

NEIGHBOURS = 4
"""Angles to either side of those that meet at a knee that are looked at with them."""

NOTHING = np.zeros(())
NEVER = np.zeros((1, 1), dtype=bool)


@dataclass(frozen=True)
class Trains:
    """Any number of trains that one pack is to hold, as arrays that are broadcast against each other: mm, kg, N.

    ``mass_kg`` is without the springs'; gas as ``Rows`` has it.
    """

    height_mm: Array
    step_mm: Array
    mass_kg: Array
    seal_closed_mm: Array
    boost_N: Array
    lifting_N: Array
    against_N: Array


class PackColumns:
    """One pack over trains. ``ctx`` is the side with the pack fitted."""

    def __init__(self, head: HeadFacts, ctx: Context) -> None:
        self._head, self._ctx = head, ctx
        stack = ctx.side.stack
        self.names = spring.springs(ctx)
        self.single = stack.pack is Pack.SINGLE
        self.each_known = stack.pack is not Pack.ASSEMBLED
        lines = [known(partial(spring.line, ctx, n)) for n in self.names]
        self.curves: list[LoadCurve] | None = [row.curve for row in lines if row is not None]
        if len(self.curves) < len(lines):
            self.curves = None
        self.solid = [_array(amount(getattr(stack, n).solid)) for n in ("outer", "inner")]
        self.solid_off = [
            unread(ctx.entry(f"stack.{n}.solid", "b")) if ctx.given(f"stack.{n}.solid") else 0.0
            for n in ("outer", "inner")
        ]
        """How far each solid height may be off for not having been measured, which its reserve's band is."""
        self.springs_kg = self._springs_kg()
        self._chains: dict[tuple[float, float], tuple[Array, Array]] = {}
        self._planes: dict[tuple[Hashable, ...], Planes] = {}
        self._presses: dict[str, Planes] = {}

    def _springs_kg(self) -> list[Array]:
        """What each spring weighs; nan where that is not known, or said to be nothing."""
        found: list[Array] = []
        for name in ("outer",) if self.single else ("outer", "inner"):
            said = getattr(self._ctx.side.stack, name).mass
            nothing = isinstance(said, Absent) and (name == "outer" or self._ctx.side.stack.pack is Pack.DUAL)
            found.append(_array(None if nothing else amount(said)))
        return found

    @cached_property
    def _straight(self) -> tuple[LinearSpring, ...] | None:
        if self.curves is None:
            return None
        found = tuple(c for c in self.curves if isinstance(c, LinearSpring))
        return found if len(found) == len(self.curves) else None

    @cached_property
    def whole(self) -> bool:
        """Whether nothing of the pack itself is unknown, and every check of the head can be told."""
        wound = [known(partial(coil.wound, self._ctx, n)) for n in self.names] if self.each_known else []
        solids = self.solid[:1] if self.single else self.solid
        figures = [*solids, *self.springs_kg]
        return self.curves is not None and None not in wound and not any(np.isnan(f) for f in figures)

    @cached_property
    def rate(self) -> float:
        return sum(c.rate_N_per_mm for c in self._straight or ())

    def moving_mass(self, trains_kg: Array) -> Array:
        """Moving mass of trains with this pack."""
        return mass_model.moving_mass_kg([trains_kg], self.springs_kg)

    def off(self, check: str, values: Mapping[str, Array]) -> float:
        """How far a check's figure among ``values`` may be off by what of the pack was not measured."""
        off = dict(zip(("spring.reserve.outer", "spring.reserve.inner"), self.solid_off, strict=True))
        if check == "spring.reserve_ceiling":
            own = [name for name, n in zip(off, ("outer", "inner"), strict=True) if n in self.names]
            check = max(own, key=lambda name: float(np.ravel(values[name])[0]))
        return off.get(check, 0.0)

    # -- one check after another

    def values(self, t: Trains, sparing: bool = False) -> dict[str, Array]:
        """Every check's figure; nan where it cannot be told, and checks left out that mean nothing for this pack.

        ``sparing`` leaves out how springs agree with themselves where they do.
        """
        found = self.standing(t, sparing)
        found |= self.gas_rules(found["spring.seat_load"], t.boost_N, t.lifting_N)
        if self.curves is not None:
            found[MASS] = self.moving_mass(t.mass_kg)
        return found | self.running(t)

    def standing(self, t: Trains, sparing: bool = False) -> dict[str, Array]:
        """What rests on heights alone; neither mass nor gas of ``t`` is looked at."""
        at = self._at(t)
        seat, opened = self._loads(at, 0.0), self._loads(at, self._head.net)
        return self._of_heights(t, seat, opened, sparing)

    def gas_rules(self, seat: Array, boost_N: Array, lifting_N: Array) -> dict[str, Array]:
        """What boost and back pressure leave of a load on the seat, N."""
        return {
            "gas.boost_rule": seat - self._head.usual_load - boost_N,
            "gas.difference_rule": seat - self._head.usual_load - np.maximum(lifting_N, 0.0),
        }

    def running(self, t: Trains) -> dict[str, Array]:
        """What the train's motion comes to, of any pack."""
        mass = self.moving_mass(t.mass_kg)
        if self.curves is None:
            shape = np.broadcast_shapes(np.shape(t.height_mm), np.shape(mass))
            return dict.fromkeys(self._head.of_the_train, np.full(shape, NAN))
        at = self._at(t)
        return self._of_the_train(t, at, self._loads(at, 0.0), mass)

    def taut(self, t: Trains) -> bool:
        """Whether loads are straight and no spring of these is slack: then ``running_taut`` tells the motion."""
        # a load of nought is a slack spring's: where none is, the loads lie on the pack's line
        return self._straight is not None and not any((load <= 0.0).any() for load in self._loads(self._at(t), 0.0))

    def _at(self, t: Trains) -> list[Array]:
        """Height of each spring of the pack."""
        return [t.height_mm, heights.inner_height_mm(t.height_mm, t.step_mm, NOTHING)][: len(self.names)]

    def _loads(self, at: list[Array], lift: float) -> list[Array]:
        if self.curves is None:
            return [np.full(np.shape(h), NAN) for h in at]
        return [
            np.maximum(np.asarray(curve.load_N(height - lift)), 0.0)
            for curve, height in zip(self.curves, at, strict=True)
        ]

    def _of_heights(self, t: Trains, seat: list[Array], opened: list[Array], sparing: bool) -> dict[str, Array]:
        head, inner = self._head, heights.inner_height_mm(t.height_mm, t.step_mm, NOTHING)
        reserves = [heights.reserve_mm(t.height_mm, _array(head.gross), self.solid[0])]
        found = {
            "stack.installed_height": t.height_mm,
            "stack.retainer_seal": t.seal_closed_mm - head.gross,
            "spring.seat_load": sum(seat, NOTHING),
            "spring.open_load": sum(opened, NOTHING),
            "spring.reserve.outer": reserves[0],
        }
        if not self.single:
            found["spring.reserve.inner"] = heights.reserve_mm(inner, _array(head.gross), self.solid[1])
        if len(self.names) > 1:
            reserves.append(found["spring.reserve.inner"])
        found["spring.reserve_ceiling"] = np.maximum(*reserves) if len(reserves) > 1 else reserves[0]
        if not (sparing and self._agree(t.height_mm, inner)):
            found["spring.rate_consistency"] = self._disagreement(t.height_mm, inner)
        if self.each_known:
            found |= self._stresses(seat, opened)
        return found

    def _agree(self, height: Array, inner: Array) -> bool:
        """Whether every form agrees at every height of these, told by the ends.

        Of two straight forms one over the other only rises or only falls, as long as the one that governs carries load.
        """
        limit = known(partial(self._ctx.limit, "spring.rate_consistency"))
        if self.curves is None or limit is None:
            return False
        for name, closed in zip(self.names, (height, inner), strict=False):
            first, *others = spring.every_line(self._ctx, name)
            ends = np.array(_range(closed, 0.0))
            for other in others:
                if not (isinstance(first.curve, LinearSpring) and isinstance(other.curve, LinearSpring)):
                    return False
                for lift in (0.0, self._head.net):
                    if np.asarray(first.curve.load_N(ends - lift)).min() <= 1.0:
                        return False
                    if _apart(first.curve, other.curve, ends - lift).max() > fails_beyond(limit)[1]:
                        return False
        return not np.isnan(height.min()) and not np.isnan(inner.min())

    def _disagreement(self, height: Array, inner: Array) -> Array:
        """The widest disagreement among the forms of either spring, at closed and open height."""
        worst: Array | float = 0.0
        if self.curves is None:
            return np.full(np.shape(height), NAN)
        for name, closed in zip(self.names, (height, inner), strict=False):
            first, *others = spring.every_line(self._ctx, name)
            for other in others:
                share = np.maximum(*(_apart(first.curve, other.curve, closed - lift) for lift in (0.0, self._head.net)))
                if np.isnan(share.min(initial=math.inf)):
                    # as one by one: where its height is not known, at those that are printed with it
                    printed = np.array(spring.reference_heights(self._ctx, name))
                    share = np.where(np.isnan(share), _apart(first.curve, other.curve, printed).max(), share)
                worst = np.maximum(worst, share)
        return np.asarray(worst, dtype=np.float64)

    def _stresses(self, seat: list[Array], opened: list[Array]) -> dict[str, Array]:
        found: dict[str, Array] = {}
        factors: list[Array] = []
        together: Array = sum(seat, NOTHING)
        if np.isnan(together.min(initial=math.inf)):
            # what one spring carries is told only where both are at a height
            known_both = np.where(np.isnan(together), NAN, 0.0)
            seat, opened = [s + known_both for s in seat], [o + known_both for o in opened]
        for name, at_seat, at_open in zip(self.names, seat, opened, strict=True):
            wound = known(partial(coil.wound, self._ctx, name))
            if wound is None:
                found[f"spring.stress.{name}"] = np.full(np.shape(at_seat), NAN)
                factors.append(found[f"spring.stress.{name}"])
                continue
            wire, mean = _array(wound.coil.wire_mm), _array(wound.coil.mean_mm)
            closed, full = (stress.shear_MPa(load, wire, mean) for load in (at_seat, at_open))
            found[f"spring.stress.{name}"] = full
            factors.append(fatigue.goodman_factor(closed, full, wire))
        found["spring.fatigue"] = np.minimum(*factors) if len(factors) > 1 else factors[0]
        return found

    # -- what the train does

    def _of_the_train(self, t: Trains, at: list[Array], seat: list[Array], mass: Array) -> dict[str, Array]:
        if self._straight is None:
            return self._curved(t, at, mass)
        loose = np.logical_or.reduce([load <= 0.0 for load in np.broadcast_arrays(*seat)])
        if not loose.any():
            return self._taut(t, at, sum(seat, NOTHING), mass)
        loose = np.broadcast_to(loose, np.broadcast_shapes(np.shape(loose), np.shape(mass)))
        if loose.all():
            return self._curved(t, at, mass)
        return self._mended(self._taut(t, at, sum(seat, NOTHING), mass), loose, t, at, mass)

    def _mended(
        self, found: dict[str, Array], where: NDArray[np.bool_], t: Trains, at: list[Array], mass: Array
    ) -> dict[str, Array]:
        """The same with some trains worked sample by sample."""
        shape = where.shape
        few = Trains(*(np.broadcast_to(getattr(t, f.name), shape)[where] for f in fields(Trains)))
        rest = self._curved(few, [np.broadcast_to(h, shape)[where] for h in at], np.broadcast_to(mass, shape)[where])
        whole = {name: np.array(np.broadcast_to(values, shape)) for name, values in found.items()}
        for name, values in rest.items():
            if name in whole:
                whole[name][where] = values
        return whole

    def _judged_gas(self, lifting_N: Array) -> Array:
        return np.maximum(lifting_N, 0.0) if self._head.gas_in_separation else NOTHING

    def closing(self, seat: Array, lifting_N: Array) -> Array:
        """What is left of a load on the seat to close the valve with, N: gas lifts where it is to be judged."""
        return seat - self._judged_gas(lifting_N)

    def _taut(self, t: Trains, at: list[Array], seat: Array, mass: Array) -> dict[str, Array]:
        """Of straight loads, pressures included."""
        closing = self.closing(seat, t.lifting_N)
        found, parted = self.running_taut(seat, closing, self.omega2(closing), mass, self.pressing(mass))
        for check, asked in self._head.pressures.items():
            found[check] = self._pressure(asked, t, seat, mass)
        return found if parted is None else self._mended(found, parted, t, at, mass)

    def running_taut(
        self, seat: Array, closing: Array, omega2: Array, mass: Array, pressing: dict[float, Array]
    ) -> tuple[dict[str, Array], NDArray[np.bool_] | None]:
        """Of straight loads all but the pressures: the least or greatest of straight functions of seat load and mass.

        ``omega2`` is that of ``closing``, ``pressing`` that of the mass. Where the follower leaves the lobe at usual
        speed, which the second answer says if any does, all but friction still holds.
        """
        head, found = self._head, {}
        found["control.separation"] = separation_rpm(omega2 / mass)
        found["control.force_reserve"] = (found["control.separation"] / head.limiter) ** 2
        if head.overspeed is not None:
            found["control.overspeed"] = closing + pressing[head.overspeed]
        if "control.friction" not in head.of_the_train:
            return found, None
        assert head.usual is not None
        found["control.friction"] = self._rub(head.usual, seat, mass)
        least = pressing[head.usual]
        if np.min(seat, initial=np.inf) + np.min(least, initial=np.inf) >= 0.0:
            return found, None
        parted = np.broadcast_to(seat + least < 0.0, np.shape(found["control.friction"]))
        return found, parted if parted.any() else None

    def pressing(self, mass: Array) -> dict[float, Array]:
        """At usual speed and overspeed: what the least force on the lobe has beyond the load on the seat, N."""
        return {rpm: self._least(rpm, mass) for rpm in {self._head.usual, self._head.overspeed} if rpm is not None}

    def omega2(self, closing: Array) -> Array:
        """The least of ω²·m over the lobe, m in kg: a chain of straight lines over seat load less gas."""
        if not len(may_part(self._head.law, self._head.lash)[0]):
            return np.full(np.shape(closing), np.inf)
        points, least = self._chain(_range(closing, LOAD_STEP_N))
        return np.interp(closing, points, least)

    def _chain(self, between: tuple[float, float]) -> tuple[Array, Array]:
        """Knees of that chain between two loads, the ends included, and its height at each."""
        found = self._chains.get(between)
        if found is None:
            _, net, decelerates = may_part(self._head.law, self._head.lash)
            x, y = 1.0 / decelerates, self.rate * net / decelerates
            knees = -np.diff(y) / np.diff(x)
            low, high = between
            inside = np.nonzero((knees > low) & (knees < high))[0]
            points = np.unique(np.concatenate([[low], knees[inside], [high]]))
            # between two knees one angle governs, so that the least at every knee tells all of it
            near = slice(max(inside[0] - NEIGHBOURS, 0), inside[-1] + NEIGHBOURS) if len(inside) else slice(None)
            least = separation_omega2(points[:, None], self.rate, net[near], 1.0, decelerates[near]).min(axis=1)
            found = self._chains[between] = points, least
        return found

    def _least(self, rpm: float, mass: Array) -> Array:
        """The least of k·v + m·L″·ω² over the lobe."""
        head, box = self._head, (_range(mass, MASS_STEP_KG),)
        planes = self._planes.get((rpm, box))
        if planes is None:
            at = head.lifted
            planes = Planes(-self.rate * head.net_lift[at], -head.inertia(rpm)[at][:, None]).within(box)
            self._planes[rpm, box] = planes
        return -planes.greatest(mass)

    def _pressed(self, asked: Pressed) -> Planes:
        """p² at each sample and speed that is looked at, over seat load, mass and the gas against opening."""
        found = self._presses.get(asked.check)
        if found is None:
            head, at, parts = self._head, asked.at, []
            c = head.pressed[at]
            for rpm in asked.speeds:
                slopes = np.stack([c, c * head.inertia(rpm)[at], c * head.fading[at]], axis=1)
                parts.append((c * self.rate * head.net_lift[at], slopes))
            found = Planes(np.concatenate([p[0] for p in parts]), np.concatenate([p[1] for p in parts]))
            self._presses[asked.check] = found
        return found

    def _pressure(self, asked: Pressed, t: Trains, seat: Array, mass: Array) -> Array:
        """√ of the greatest p²; force below nought presses nothing."""
        box = [_range(v, step) for v, step in ((seat, LOAD_STEP_N), (mass, MASS_STEP_KG), (t.against_N, LOAD_STEP_N))]
        greatest = self._pressed(asked).within(box).greatest(seat, mass, t.against_N)
        found: Array = np.sqrt(np.maximum(greatest, 0.0, out=greatest), out=greatest)
        return found

    def pressing_past(self, check: str, seat: Array, mass: Array, against_N: Array, limit_MPa: float) -> Planes:
        """What can press harder than a limit on any of these taut trains, over seat load, mass and gas."""
        box = [_range(v, 0.0) for v in (seat, mass, against_N)]
        planes = self._pressed(self._head.pressures[check]).reaching(limit_MPa**2, box)
        return planes.within(box) if len(planes.constant) else planes

    def _rub(self, rpm: float, seat: Array, mass: Array) -> Array:
        """Friction where the follower never leaves the lobe."""
        head, at = self._head, self._head.lifted
        share = head.rubbed[at]
        per_load, per_rate, per_mass = share.sum(), share @ head.net_lift[at], share @ head.inertia(rpm)[at]
        turn = cam_rad_per_s(rpm)
        # what is small is added up before it meets what is large
        found: Array = turn * per_load * seat + turn * (per_rate * self.rate + per_mass * mass)
        return found

    # -- where a load curves, or a spring is slack

    def _curved(self, t: Trains, at: list[Array], mass: Array) -> dict[str, Array]:
        """Every train sample by sample, as one by one."""
        assert self.curves is not None
        shape = np.broadcast_shapes(*(np.shape(getattr(t, f.name)) for f in fields(Trains)), np.shape(mass))
        flat = Trains(*(np.broadcast_to(getattr(t, f.name), shape).ravel() for f in fields(Trains)))
        weighs = np.broadcast_to(mass, shape).ravel()
        pairs, which = np.unique(
            np.stack([np.broadcast_to(h, shape).ravel() for h in at], axis=1), axis=0, return_inverse=True
        )
        which = which.reshape(-1)
        found = {name: np.full(len(weighs), NAN) for name in self._head.of_the_train}
        known_at = np.logical_not(np.isnan(pairs).any(axis=1))
        self._part(found, flat, pairs, which, weighs, known_at)
        step = max(AT_ONCE // max(len(self._head.lifted), 1), 1)
        order = np.nonzero(known_at[which])[0]
        order = order[np.argsort(which[order], kind="stable")]
        for start in range(0, len(order), step):
            some = order[start : start + step]
            self._sampled(found, flat, pairs, which, weighs, some)
        return {name: values.reshape(shape) for name, values in found.items()}

    def _part(
        self, found: dict[str, Array], t: Trains, pairs: Array, which: NDArray[np.intp], mass: Array,
        known_at: NDArray[np.bool_],
    ) -> None:  # fmt: skip
        """Separation by the model itself, once for each height and gas: it falls with the root of the mass."""
        assert self.curves is not None
        gas = np.broadcast_to(self._judged_gas(t.lifting_N), np.shape(mass))
        cases, whose = np.unique(np.stack([which.astype(np.float64), gas], axis=1), axis=0, return_inverse=True)
        apart = np.full(len(cases), NAN)
        for i, (pair, force) in enumerate(cases):
            if np.isnan(force) or not known_at[int(pair)]:
                continue
            held = FittedPack(tuple(Fitted(c, float(h)) for c, h in zip(self.curves, pairs[int(pair)], strict=True)))
            parts = RigidTrain(self._head.law, held, 1.0, self._head.lash, float(force)).separation()
            apart[i] = np.inf if parts is None else parts.rpm
        found["control.separation"] = apart[whose.reshape(-1)] / np.sqrt(mass)
        found["control.force_reserve"] = (found["control.separation"] / self._head.limiter) ** 2

    def _sampled(
        self, found: dict[str, Array], t: Trains, pairs: Array, which: NDArray[np.intp], mass: Array,
        some: NDArray[np.intp],
    ) -> None:  # fmt: skip
        assert self.curves is not None
        head, at = self._head, self._head.lifted
        rows, here = np.unique(which[some], return_inverse=True)
        load = np.zeros((len(rows), len(at)))
        for curve, height in zip(self.curves, pairs[rows].T, strict=True):
            load += np.maximum(np.asarray(curve.load_N(height[:, None] - head.net_lift[at])), 0.0)
        load = load[here.reshape(-1)]
        weighs = mass[some][:, None]
        if head.overspeed is not None:
            least = (load + weighs * head.inertia(head.overspeed)[at]).min(axis=1)
            found["control.overspeed"][some] = (
                least - np.broadcast_to(self._judged_gas(t.lifting_N), np.shape(mass))[some]
            )
        if "control.friction" in head.of_the_train:
            assert head.usual is not None
            force = np.maximum(load + weighs * head.inertia(head.usual)[at], 0.0)
            found["control.friction"][some] = cam_rad_per_s(head.usual) * (force @ head.rubbed[at])
        for check, asked in head.pressures.items():
            there = np.searchsorted(at, asked.at)
            worst = np.zeros(len(some))
            for rpm in asked.speeds:
                force = load[:, there] + weighs * head.inertia(rpm)[asked.at]
                force += t.against_N[some][:, None] * head.fading[asked.at]
                worst = np.maximum(worst, (force * head.pressed[asked.at]).max(axis=1))
            found[check][some] = np.sqrt(worst)


def _array(value: float | None) -> Array:
    """One figure for every train, nan where it is not known."""
    return np.asarray(NAN if value is None else value)


def _apart(one: LoadCurve, other: LoadCurve, height: Array) -> Array:
    """How far two forms of a spring disagree at a height, as a share of the one that governs."""
    governs, says = (np.asarray(curve.load_N(height)) for curve in (one, other))
    found: Array = np.abs(says - governs) / np.maximum(np.abs(governs), 1.0)
    return found


def _outward(between: tuple[float, float], step: float) -> tuple[float, float]:
    """A range widened to whole steps, so that the next one like it is met again; none where nothing is known."""
    low, high = between
    if math.isnan(low):
        return 0.0, step
    if step == 0.0:
        return between
    return math.floor(low / step) * step, math.ceil(high / step) * step + step


def _range(values: Array, step: float) -> tuple[float, float]:
    some = values[~np.isnan(values)] if np.isnan(values).any() else values
    return _outward((float(some.min()), float(some.max())), step) if some.size else (0.0, step)
