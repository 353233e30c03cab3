"""What the Control page shows beside its fields."""

from functools import partial
from typing import Any

from arcstack.assess import elastic, spring
from arcstack.assess.context import Context, ask
from arcstack.assess.speed_limit import SpeedLimit, speed_limit
from arcstack.drawings.force_map import force_map
from arcstack.dynamics.model import COILS
from arcstack.errors import CurveConflict, NotKnown
from arcstack.trials.packs import tried
from arcstack.views.drawn import drawn
from arcstack.web.kit.stage import On
from arcstack.web.stages.control.charts import cost_chart, sweep_chart


def content(on: On) -> dict[str, Any]:
    ctx, system = on.ctx, on.system
    gas = ctx.practice.schools.gas_in_separation
    limit, other = (drawn(partial(speed_limit, c)) for c in (ctx, ctx.other))
    limiter = on.build.brief.limiter
    own = (drawn(lambda: (elastic.lowest_rpm(ctx), elastic.top_rpm(ctx))) if limiter else None) or (2000.0, 8000.0)
    return {
        "map": drawn(lambda: force_map(ctx, gas, system)),
        "gas_judged": gas,
        "limit": limit,
        "other_limit": other,
        "other_side": ctx.other.side_name,
        "gone_solid": [said for c in (ctx, ctx.other) for said in drawn(partial(spring.gone_solid, c)) or []],
        "proven": limit is not None and _proven(on, limit),
        **_sweep(ctx, on),
        "trace_rpm": round(limiter.value) if limiter else 6000,
        "sweep_from": round(own[0]),
        "sweep_to": round(own[-1]),
        "coils": COILS,
        "chart": drawn(lambda: cost_chart(tried(ctx), system)),
    }


def _proven(on: On, limit: SpeedLimit) -> bool:
    return all(on.assessment.verdict(h.check, on.side).proven for h in (limit.governs, limit.governs_overspeed))


def _sweep(ctx: Context, on: On) -> dict[str, Any]:
    """The sweep's chart, or what it still needs in words."""
    answer = ask(lambda: elastic.answer(ctx))
    if not isinstance(answer, NotKnown):
        return {"sweep": drawn(lambda: sweep_chart(ctx, answer, on.system))}
    needs = ", ".join(m.label.lower() for m in answer.missing)
    words = answer.why if isinstance(answer, CurveConflict) else f"Needs {needs}." if needs else ""
    return {"sweep": None, "sweep_needs": words}
