"""What cam, speeds and gas of one side ask of every combination: the samples of its lobe, and the limits."""

import math
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from arcstack.assess import cam, contact, cost, fit, gas, running
from arcstack.assess.catalogue import checks
from arcstack.assess.check import Check
from arcstack.assess.context import Context, ask, known
from arcstack.cached import cached_property
from arcstack.checks import Limit
from arcstack.errors import MissingInput, NotKnown
from arcstack.mech.cam.facts import Samples, samples
from arcstack.mech.cam.law import Array, LiftLaw
from arcstack.mech.contact import hertz_line_MPa
from arcstack.mech.control import cam_rad_per_s

COLUMNS = (
    "stack.height_reachable", "stack.installed_height", "stack.retainer_seal",
    "spring.seat_load", "spring.open_load", "spring.reserve.outer", "spring.reserve.inner", "spring.reserve_ceiling",
    "spring.rate_consistency", "spring.stress.outer", "spring.stress.inner", "spring.fatigue",
    "control.separation", "control.force_reserve", "control.overspeed", "control.nose_pressure", "control.friction",
    "follower.contact_pressure.nose", "follower.contact_pressure.flank", "gas.boost_rule", "gas.difference_rule",
)  # fmt: skip
"""Checks that are worked in columns: they rest on heights, masses and loads together."""

TRAIN = (
    "control.separation", "control.force_reserve", "control.overspeed", "control.nose_pressure", "control.friction",
    "follower.contact_pressure.nose", "follower.contact_pressure.flank",
)  # fmt: skip
"""Those of them that rest on the train's motion too."""

RUNNING = running.RUN_OVER_SPEEDS
"""Checks that take a train run over its speeds: worked of the finalists alone."""

FITS = frozenset(fit.BY_ID)


@dataclass(frozen=True)
class Pressed:
    """A check of contact pressure: the samples ``at`` which it looks, at each of ``speeds`` (rpm)."""

    check: str
    at: NDArray[np.intp]
    speeds: tuple[float, ...]


class HeadFacts:
    """One side's cam, speeds, gas and limits. Raises ``MissingInput`` while there is no lift curve or no limiter."""

    def __init__(self, ctx: Context) -> None:
        self.ctx = ctx
        self.limiter = ctx.entry("brief.limiter", "n").value
        self.law: LiftLaw = cam.curve(ctx).valve
        self.lash, self.gross, self.net = cam.lash(ctx).value, cam.gross_lift(ctx).value, cam.net_lift(ctx).value
        taken: Samples = samples(self.law)
        self.lifted = np.nonzero(taken.lift > self.lash)[0]
        self.angle = taken.angle
        self.net_lift, self.acceleration = taken.lift - self.lash, taken.acceleration
        self.gas_in_separation = ctx.practice.schools.gas_in_separation

    def amount(self, path: str) -> float | None:
        """An input of the brief or the cam, where it was given."""
        found = known(partial(self.ctx.entry, path, "x"))
        return found.value if found is not None else None

    @cached_property
    def limits(self) -> dict[str, Limit | NotKnown]:
        """The limit of each check that judges, or why it cannot be told."""
        return {
            c.id: ask(partial(self._limit, c)) for c in checks().values() if c.judges(self.ctx) and c.id not in FITS
        }

    def _limit(self, check: Check) -> Limit:
        return check.limit_for(self.ctx)

    @cached_property
    def usual(self) -> float | None:
        return self.amount("brief.usual_speed")

    @cached_property
    def overspeed(self) -> float | None:
        return self.amount("brief.overspeed")

    @cached_property
    def usual_load(self) -> float:
        return gas.usual_load(self.ctx).value

    # -- contact

    @cached_property
    def pressed(self) -> Array:
        """p²/F over the samples: Hertz's E′·i_L/(π·w·R), i_L the slope of the follower there. Raises ``NotKnown``."""
        self.ctx.need("cam.base_circle", "cam.lobe_width")
        _, radius = contact.curvature(self.ctx)
        width = self.ctx.entry("cam.lobe_width", "w").value
        one = hertz_line_MPa(np.ones(len(radius)), width, radius, contact.modulus(self.ctx).value)
        found: Array = one**2 * contact.lobe_force(self.ctx, np.ones(len(radius)))
        return found

    def looked_at(self, near_nose: bool) -> NDArray[np.intp]:
        """The samples at which a pressure counts. Raises ``MissingInput`` where no lobe can be ground there."""
        angles = self.angle
        near = np.abs(angles) <= contact.NOSE_RAD if near_nose else np.ones(len(angles), dtype=bool)
        if np.any(np.isnan(self.pressed[near])):
            raise MissingInput(self.ctx.missing("cam.base_circle" if self.ctx.bucket else "follower.pad_radius"))
        found: NDArray[np.intp] = self.lifted[near[self.lifted]]
        return found

    @cached_property
    def pressures(self) -> dict[str, Pressed]:
        """Contact pressures that can be told of this head."""
        running = [s for n in ("usual_speed", "limiter", "overspeed") if (s := self.amount(f"brief.{n}")) is not None]
        found = {}
        for check, speeds, near_nose in (
            ("follower.contact_pressure.nose", [f.value for f in contact.cranking(self.ctx)], True),
            ("follower.contact_pressure.flank", running, False),
            ("control.nose_pressure", [] if self.usual is None else [self.usual], True),
        ):
            at = known(partial(self.looked_at, near_nose))
            if at is not None and speeds:
                found[check] = Pressed(check, at, tuple(speeds))
        return found

    @cached_property
    def of_the_train(self) -> tuple[str, ...]:
        """Checks of the train that can be told of this head."""
        found = ["control.separation", "control.force_reserve", *self.pressures]
        found += ["control.overspeed"] if self.overspeed is not None else []
        found += ["control.friction"] if self.usual is not None and known(lambda: self.rubbed) is not None else []
        return tuple(found)

    @cached_property
    def fading(self) -> Array:
        """Share of the gas against the opening that is left at each sample."""
        found: Array = np.where(
            (self.angle < 0.0) & (self.net_lift > 0.0), np.clip(1.0 - self.net_lift / gas.OPENS_OVER_MM, 0.0, 1.0), 0.0
        )
        return found

    @cached_property
    def rubbed(self) -> Array:
        """Friction power (W) at one N on each sample and one rad/s: the trapezoid's share of μ·i_L·(R + L)/2π."""
        self.ctx.need("brief.usual_speed", "cam.base_circle")
        lobe = cam.curve(self.ctx).lobe.evaluate(self.angle)
        radius = self.ctx.entry("cam.base_circle", "D_c").value / 2.0
        steps = np.diff(self.angle)
        share = np.zeros(len(self.angle))
        share[:-1] += steps / 2.0
        share[1:] += steps / 2.0
        slope = contact.lobe_force(self.ctx, np.ones(len(self.angle)))
        found: Array = share * cost.coefficient(self.ctx).value * slope * (radius + lobe) / 1000.0 / (2.0 * math.pi)
        return found

    def inertia(self, rpm: float) -> Array:
        """Force of one kg at each sample at a speed, N."""
        found: Array = self.acceleration * 1e-3 * cam_rad_per_s(rpm) ** 2
        return found
