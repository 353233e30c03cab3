"""Figures each in range that cannot both be."""

from collections.abc import Iterator

from arcstack.document.entry import Entry, amount
from arcstack.document.model import SIDES, Build
from arcstack.document.parts import Brief, Engine, Lever, Spring, SpringPack
from arcstack.units import GAUGE_PRESSURE, LENGTH, SPEED, show


def problems(build: Build) -> Iterator[tuple[str, str]]:
    """Parts that cannot be, as (path, message): figures each in range that contradict each other."""
    yield from _engine_problems(build.engine)
    yield from _brief_problems(build.brief)
    for side in SIDES:
        yield from _side_problems(build, side)


def _engine_problems(engine: Engine) -> Iterator[tuple[str, str]]:
    if engine.stroke and engine.rod:
        offset = abs(amount(engine.pin_offset) or 0.0)
        if engine.rod.value <= engine.stroke.value / 2 + offset:
            yield (
                "engine.rod",
                f"A rod of {show(engine.rod.value, LENGTH)} is shorter than half the stroke of "
                f"{show(engine.stroke.value, LENGTH)}: the crank could not turn.",
            )


def _brief_problems(brief: Brief) -> Iterator[tuple[str, str]]:
    if _above(brief.limiter, brief.overspeed):
        yield "brief.overspeed", "Overspeed is below the limiter; it is the speed reached past it."
    most, word = (brief.overspeed, "overspeed") if brief.overspeed else (brief.limiter, "the limiter")
    for name, title in (("usual_speed", "Usual speed"), ("peak_speed", "Peak power speed")):
        speed: Entry | None = getattr(brief, name)
        if speed and most and speed.value > most.value:
            yield (
                f"brief.{name}",
                f"{title} of {show(speed.value, SPEED)} is above {word} of {show(most.value, SPEED)}, which it cannot "
                "reach.",
            )
    if brief.pulse_peak and brief.back_pressure and brief.pulse_peak.value < brief.back_pressure.value:
        yield (
            "brief.pulse_peak",
            f"A pulse peak of {show(brief.pulse_peak.value, GAUGE_PRESSURE)} is below the mean back pressure of "
            f"{show(brief.back_pressure.value, GAUGE_PRESSURE)}: a peak stands above its mean.",
        )


def _above(low: Entry | None, high: Entry | None) -> bool:
    """Whether both are known and the one that should be the lower is the higher."""
    return low is not None and high is not None and low.value > high.value


def _side_problems(build: Build, side: str) -> Iterator[tuple[str, str]]:
    here = build.side(side)
    valve = here.stack.valve
    if valve.head and valve.stem and valve.stem.value >= valve.head.value:
        yield f"{side}.stack.valve.stem", f"The {side} stem is thicker than its head."
    retainer = here.stack.retainer
    if retainer.step and retainer.depth and retainer.depth.value < retainer.step.value - 1e-9:
        yield (
            f"{side}.stack.retainer.depth",
            f"The {side} retainer's lower face, {show(retainer.depth.value, LENGTH)} below its outer step, is above "
            f"its own step to the inner spring of {show(retainer.step.value, LENGTH)}.",
        )
    shims = sum(amount(s) or 0.0 for s in here.stack.shims)
    if here.stack.open_height and shims >= here.stack.open_height.value / 2:
        yield (
            f"{side}.stack.open_height",
            f"The {side} shims of {show(shims, LENGTH)} fill half an open height of "
            f"{show(here.stack.open_height.value, LENGTH)} or more.",
        )
    if here.cam.lash and here.cam.lobe_lift and here.cam.lash.value >= here.cam.lobe_lift.value:
        yield f"{side}.cam.lash", f"The {side} lash is not below its lobe's lift: the valve would never open."
    for kind, lever in (("finger", here.follower.finger), ("rocker", here.follower.rocker)):
        yield from _arm_problems(f"{side}.follower.{kind}", f"{side} {kind}'s", lever)
    yield from _pack_problems(f"{side}.stack", side, here.stack)
    for slot, pack in enumerate(here.candidates, 1):
        yield from _pack_problems(f"{side}.candidates.{slot}", f"{side} candidate {slot}’s", pack)


def _arm_problems(base: str, whose: str, lever: Lever) -> Iterator[tuple[str, str]]:
    for arm, height, what in (("arm", "arm_height", "tip"), ("pad_arm", "pad_height", "pad")):
        length, above = getattr(lever, arm), getattr(lever, height)
        if length and above and abs(above.value) >= length.value:
            yield (
                f"{base}.{height}",
                f"The {whose} {what} stands {show(abs(above.value), LENGTH)} off its pivot's level, which an "
                f"arm of {show(length.value, LENGTH)} cannot reach.",
            )


def _pack_problems(base: str, whose: str, pack: SpringPack) -> Iterator[tuple[str, str]]:
    outer, inner = pack.outer, pack.inner
    if outer.outside and inner.outside and inner.outside.value >= outer.outside.value:
        yield (
            f"{base}.inner.outside",
            f"{whose.capitalize()} inner spring of {show(inner.outside.value, LENGTH)} outside is larger than its "
            f"outer of {show(outer.outside.value, LENGTH)}.",
        )
    for name, spring in (("outer", outer), ("inner", inner)):
        yield from _spring_problems(f"{base}.{name}", f"{whose} {name}", spring)


def _spring_problems(where: str, whose: str, spring: Spring) -> Iterator[tuple[str, str]]:
    if spring.wire and spring.outside and 2 * spring.wire.value >= spring.outside.value:
        yield f"{where}.wire", f"The {whose} spring's wire leaves no room inside its coil."
    if spring.outside and spring.outside_top and spring.outside_top.value > spring.outside.value:
        yield f"{where}.outside_top", f"The {whose} spring is wider at the top than at its base; give the base first."
    if spring.wire and spring.outside_top and 2 * spring.wire.value >= spring.outside_top.value:
        yield f"{where}.outside_top", f"The {whose} spring's wire leaves no room inside its top coil."
    if spring.solid and spring.free_length and spring.solid.value >= spring.free_length.value:
        yield f"{where}.solid", f"The {whose} spring's solid height is not below its free length."
    if spring.coils and spring.active and spring.active.value >= spring.coils.value:
        yield f"{where}.active", f"The {whose} spring cannot have more coils at work than in all."
    if spring.free_length and spring.height_1 and spring.height_1.value >= spring.free_length.value:
        yield f"{where}.free_length", f"The {whose} spring's free length is not above the height of its load 1."
    if spring.height_1 and spring.load_1 and spring.height_2 and spring.load_2:
        yield from _load_problems(where, whose, spring.height_1, spring.load_1, spring.height_2, spring.load_2)


def _load_problems(where: str, name: str, h1: Entry, f1: Entry, h2: Entry, f2: Entry) -> Iterator[tuple[str, str]]:
    if h1.value == h2.value:
        yield f"{where}.height_2", f"The {name} spring's two loads are given at one height."
    elif (f2.value - f1.value) * (h1.value - h2.value) <= 0:
        yield f"{where}.load_2", f"The {name} spring's load must rise as it is shortened; heights or loads are swapped."
