"""Verdicts as plain data, the same for the command line and any other reader."""

from typing import Any

from arcstack.assess import Assessment
from arcstack.checks import Evidence, Figure, Limit, Verdict, Waiver, steps
from arcstack.evidence import coverage


def verdicts(assessment: Assessment) -> list[dict[str, Any]]:
    """One object a verdict: id, side, value, unit, limit, level, evidence, working, and what is missing."""
    return [_verdict(v) for v in assessment.verdicts]


def _verdict(v: Verdict) -> dict[str, Any]:
    return {
        "id": v.id,
        "side": v.side,
        "value": None if v.figure is None else v.figure.value,
        "unit": _unit(v),
        "limit": None if v.limit is None else _limit(v.limit),
        "band": list(v.figure.band) if v.figure and v.figure.band else None,
        "level": v.level.value,
        "evidence": v.evidence or None,
        "measured_at": _measured_at(v),
        "not_measured": [] if v.figure is None else [_input(f) for f in coverage(v.figure).owed],
        "at_least": bool(v.figure and v.figure.at_least),
        "waived": [_waiver(w) for w in v.waivers],
        "weakest": None if v.figure is None else v.figure.weakest.value,
        "judges": v.judges,
        "missing": [{"path": m.path, "label": m.label} for m in v.missing],
        "note": v.note,
        "working": [] if v.figure is None else [_step(f) for f in steps(v.figure)],
    }


def _measured_at(v: Verdict) -> dict[str, Any] | None:
    """At how many places the check is measured: at none while anything of it was measured nowhere."""
    if v.figure is None or v.covered is None:
        return None
    nowhere = any(f.evidence is not Evidence.MEASURED for f in coverage(v.figure).owed)
    return {"places": 0 if nowhere else v.covered[0], "of": v.covered[1] or None}


def _waiver(waiver: Waiver) -> dict[str, Any]:
    return {
        "hand": waiver.hand or None,
        "at": waiver.at.isoformat() if waiver.at else None,
        "reason": waiver.reason,
        "practice_low": waiver.low,
        "practice_high": waiver.high,
    }


def _unit(v: Verdict) -> str | None:
    return v.figure.dimension.canonical_word if v.figure else None


def _limit(limit: Limit) -> dict[str, Any]:
    return {
        "sense": limit.sense.value,
        "low": limit.low,
        "high": limit.high,
        "tight_within": limit.tight,
        "reason": limit.reason,
        "origin": limit.origin,
    }


def _step(f: Figure) -> dict[str, Any]:
    return {
        "symbol": f.symbol,
        "label": f.label,
        "formula": f.formula,
        "value": f.value,
        "unit": f.dimension.canonical_word,
        "note": f.note,
        "inputs": [_input(i) for i in f.inputs],
        "beside": [_input(i) for i in f.beside],
    }


def _input(f: Figure) -> dict[str, Any]:
    return {
        "symbol": f.symbol,
        "label": f.label,
        "value": f.value,
        "unit": f.dimension.canonical_word,
        "evidence": f.evidence.value,
        "path": f.path,
    }
