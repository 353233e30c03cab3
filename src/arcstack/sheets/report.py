"""The customer's report: what was asked, found, done and not checked, in plain words."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import UTC

from arcstack.assembly.doing import prelube
from arcstack.assembly.progress import standings
from arcstack.assess.built import Across, today
from arcstack.assess.catalogue import find
from arcstack.assess.phaser import WAYS
from arcstack.checks import Figure, Level, Verdict
from arcstack.document import SIDES, Build, Entry, get
from arcstack.document.parts import Pack
from arcstack.evidence import passing
from arcstack.evidence.coverage import Leaf
from arcstack.formats.sheets import (
    Bar,
    Block,
    Cell,
    Gap,
    Heading,
    Paragraph,
    Pictures,
    Printed,
    Sign,
    Table,
    Told,
)
from arcstack.readings import Cut
from arcstack.readings.assembling import State, set_up
from arcstack.readings.event import Event, last_of, of_kind
from arcstack.readings.left import left
from arcstack.readings.recorded import Worker, worked
from arcstack.readings.returning import Disposed, Found, Received, What, named_in
from arcstack.readings.returning import findings as findings_of
from arcstack.readings.sent_on import SentOn
from arcstack.record.carried_out import carried_out
from arcstack.record.ledger import since
from arcstack.record.orders import State as OrderState
from arcstack.record.orders import lines
from arcstack.record.owed import Group, Kind, Owed, grouped, owed
from arcstack.record.plain import Plain, last_look, plain
from arcstack.record.release import let_pass_words
from arcstack.sheets.photographs import photographs
from arcstack.sheets.saying import NONE, Printing, mark_drawings
from arcstack.units import LENGTH, show
from arcstack.wear.report import before
from arcstack.wear.signs import signs

FIGURES = (
    "stack.installed_height", "spring.seat_load", "spring.open_load", "spring.reserve.outer", "spring.reserve.inner",
    "stack.retainer_seal", "piston.clearance_swept", "valve.to_valve", "control.separation", "control.overspeed",
    "lash.band", "seat.vacuum",
)  # fmt: skip
"""Checks whose figures a customer is shown, each with what it is in plain words."""

MOST_PICTURES = 6


def customer_report(p: Printing) -> Printed:
    """The report of a head, in its language."""
    w = plain(p.language)

    def title(key: str) -> Heading:
        return Heading(w.told("titles", key))

    passed = p.signed.waived if p.signed is not None else let_pass_words(_owed(p))
    touch = let_pass_words([o for o in _owed(p) if o.contact])
    # that metal may meet, and a name let it pass unread, is said before anything else
    first: list[Block] = [Paragraph(w.told("not_checked", "contact"), "caution"), Told(touch)] if touch else []
    blocks: list[Block] = [*first, title("asked"), Told(list(_asked(p, w))), title("found"), Told(list(_found(p, w)))]
    shots = photographs(p, lambda key: w.told("shots", key) if w.has("shots", key) else "", MOST_PICTURES)
    if shots:
        blocks.append(Pictures(shots))
    blocks += [title("done"), Told(list(_done(p, w))), title("not_checked")]
    blocks += _not_checked(p, w)
    blocks += [title("figures"), _figures(p, w), Paragraph(w.told("figures", "worst"), "note")]
    bars = list(_bars(p, w))
    if bars:
        blocks += [title("budget"), *bars[:-1], replace(bars[-1], legend=True)]
    blocks += [title("limits"), Told(list(_limits(p, w)))]
    if passed:
        blocks += [title("passed"), Told(passed)]
    blocks += [
        title("next"),
        Paragraph(_next(p, w)),
        title("answers"),
        Paragraph(_answers(p, w), "" if p.signed else "caution"),
    ]
    signed = p.signed
    blocks.append(
        Sign(
            [
                (w.told("titles", "answers"), signed.answers if signed else ""),
                (w.told("answers", "signature"), signed.by.hand if signed else ""),
            ]
        )
    )
    return Printed(w.told("titles", "report"), p.under, blocks, p.foot, language=w.key, marks=mark_drawings())


def _asked(p: Printing, w: Plain) -> Iterator[str]:
    build = p.current.build
    named = " ".join(t for t in (build.head.number or build.head.marks,) if t)
    yield w.told(
        "asked", "job", customer=build.job.customer or w.told("asked", "someone"),
        head=w.told("asked", "this_head", head=named) if named else "", use=w.told("asked", f"use_{_use(build)}"),
    )  # fmt: skip
    if limiter := p.entry("brief.limiter"):
        yield w.told("asked", "speed", limiter=limiter)
    boost = p.entry("brief.boost")
    fuel = w.told("words", f"fuel_{build.brief.fuel.value}")
    yield w.told("asked", "boost", boost=boost, fuel=fuel) if boost else w.told("asked", "no_boost")
    came = last_of(last_look(p.here.sheet.events), Received)
    if came is not None:
        yield w.told("asked", "complaint", complaint=came.complaint)
        used = [w.told("words", "km", km=f"{came.distance_km:,.0f}")] if came.distance_km else []
        used += [w.told("words", "hours", hours=f"{came.hours:,.0f}")] if came.hours else []
        if used:
            yield w.told("asked", "used", used=", ".join(used))
        if came.touched:
            yield w.told("asked", "touched", who=came.touched)


def _use(build: Build) -> str:
    use = build.brief.use
    return use.value if use is not None else ""


def _places(w: Plain, places: tuple[str, ...]) -> str:
    return w.told("found", "at", places=", ".join(places)) if places else w.told("found", "everywhere")


def _found(p: Printing, w: Plain) -> Iterator[str]:
    life = last_look(p.here.sheet.events)
    seen: dict[tuple[str, bool], tuple[str, ...]] = {}
    for f in (e for e in _standing(life)):
        key = f.sign, f.absent
        seen[key] = tuple(dict.fromkeys((*seen.get(key, ()), *f.places)))
    order = sorted(seen.items(), key=lambda row: (row[0][1], row[0][0] in signs() and signs()[row[0][0]].normal))
    for (sign, absent), places in order:
        what = w.told("signs", sign) if w.has("signs", sign) else sign
        if absent:
            yield w.told("found", "absent", what=what[:1].lower() + what[1:])
        else:
            yield w.told("found", "sign", what=what, where=_places(w, places))
    causes = named_in(life)
    for n in causes:
        if n.open:
            yield f"{before(n)[:1].upper()}{before(n)[1:]}{w.told('found', 'no_cause')}"
            continue
        cause = w.told("causes", n.cause) if w.has("causes", n.cause) else n.cause
        reason = f"{n.reason[:1].upper()}{n.reason[1:]}." if n.reason else ""
        yield w.told("found", "chain", cause=f"{before(n)}{cause}", reason=reason).strip()
    if not causes and any(not absent and not (s in signs() and signs()[s].normal) for s, absent in seen):
        yield w.told("found", "no_cause")
    elif life and not causes:
        yield w.told("found", "none_yet")
    elif not causes:
        yield w.told("found", "nothing")
    for e in worked(p.here.sheet.events):
        if e.worker is not Worker.OWN:
            told = w.told(
                "found",
                "record",
                done=e.done,
                who=e.name or e.worker.value,
                known=w.told("words", f"known_{e.known.value}"),
            )
            done, of = since(p.here.sheet, e)
            yield told + (w.told("found", "not_since") if of and done < of else "")


def _standing(life: Sequence[Event]) -> tuple[Found, ...]:
    """Findings of one life that were not taken back, that life ended or not."""
    events = [e for e in life if not isinstance(e, SentOn)]
    return findings_of(events)


def _done(p: Printing, w: Plain) -> Iterator[str]:
    sheet = p.here.sheet
    read = [r for r in sheet.standing if r.by.instrument]
    if read:
        at = {sheet.place_of(r.item).label if r.item and sheet.place_of(r.item) else r.place for r in read} - {""}  # type: ignore[union-attr]
        tools = list(dict.fromkeys(r.by.instrument for r in read))
        named = ", ".join(tools[:3])
        yield w.told("done", "read", count=len(read), places=len(at), of=len(sheet.places), tools=named)
    else:
        yield w.told("done", "read_none")
    cuts = of_kind(sheet.events, Cut)
    if cuts:
        most = max(max(c.face_mm, c.seat_mm, c.tip_mm) for c in cuts)
        yield w.told("done", "cut", places=len({c.place for c in cuts}), most=p.say.value(most, LENGTH))
    rows: dict[tuple[str, What, str], list[str]] = {}
    sent_on = any(isinstance(e, SentOn) for e in last_look(sheet.events))
    last: dict[tuple[str, str], Disposed] = {}
    for e in last_look(sheet.events):
        if isinstance(e, Disposed):
            last[e.part, e.place] = e
    for d in last.values():
        how = "became" if sent_on and carried_out(sheet, d) else "decided"
        rows.setdefault((d.part, d.what, how), []).append(d.place)
    for (part, what, how), places in rows.items():
        yield w.told("done", how, part=w.told("parts", part), places=", ".join(places), what=w.told("what", what.value))
    for x in lines(sheet.events):
        if x.state is OrderState.PASSED:
            yield w.told("done", "ordered", count=x.order.count, part=x.order.part)
    steps = standings(sheet)
    done = sum(s.state is State.DONE for s in steps)
    yield w.told("done", "steps", done=done, of=len(steps)) if done else w.told("done", "steps_none")


def _not_checked(p: Printing, w: Plain) -> list[Block]:
    """What stands against the head, both sides in one sentence; what has no plain name is counted."""
    rows: dict[str, list[str]] = {}
    unnamed = waiting = 0
    for a in grouped(_owed(p), {}):
        if a.waiting:
            waiting += 1
            continue
        text = _left_out(a, p, w)
        if not text:
            unnamed += 1
            continue
        rows.setdefault(text, [])
        if a.side:
            rows[text].append(w.told("figures", f"side_{a.side}"))
    found = [f"{text} ({', '.join(sides)})." if sides else f"{text}." for text, sides in rows.items()]
    if waiting:
        found.append(w.told("not_checked", "waiting"))
    if unnamed:
        found.append(w.told("not_checked", "more", count=unnamed))
    unread = len(left(p.here.sheet))
    if unread:
        found.append(w.told("not_checked", "unread", count=unread))
    if not found:
        return [Paragraph(w.told("not_checked", "nothing"))]
    return [Paragraph(w.told("not_checked", "lead")), Told(found)]


def _owed(p: Printing) -> tuple[Owed, ...]:
    """What is owed, with what names let pass of it: as it was when the head was signed, else today."""
    on = p.signed.by.at.date() if p.signed is not None and p.signed.by.at is not None else today()
    return owed(p.here.design, p.here.sheet, p.here.built, on)


_OTHERS = {
    Kind.MOCK_UP: "mock_up", Kind.ASSEMBLY: "assembly", Kind.STALE: "stale", Kind.LASH: "lash",
    Kind.DISPOSITION: "dispositions", Kind.ORDER: "orders",
}  # fmt: skip


def _left_out(a: Group, p: Printing, w: Plain) -> str:
    """One thing in plain words, without its side; empty where it has no plain name."""
    if a.kind in _OTHERS:
        key = _OTHERS[a.kind]
        return w.told("not_checked", key) if w.has("not_checked", key) else ""
    if not w.has("figures", a.key):
        return ""
    what = w.told("figures", a.key)
    if a.kind is Kind.UNREAD and a.places:
        own = sum(q.side == a.side for q in p.here.sheet.places)
        return w.told("not_checked", "some", what=what, count=len(a.places), of=own)
    if a.kind is Kind.UNREAD:
        return w.told("not_checked", "paper", what=what)
    return w.told("not_checked", {"fail": "fails", "loosened": "loosened"}.get(a.state, "open"), what=what)


def _figures(p: Printing, w: Plain) -> Table:
    """Figures of both sides beside each other, each the worst valve's where it was measured."""
    rows = []
    for check in FIGURES:
        own = [_worst(p, w, check, side) for side in SIDES]
        if all(v is None for v, _ in own):
            continue
        held = list(dict.fromkeys(_held_to(p, v) for v, _ in own if v is not None and _held_to(p, v)))
        how = list(dict.fromkeys(text for v, text in own if v is not None))
        rows.append(
            [
                Cell(w.told("figures", check)),
                *(_cell(p, v) for v, _ in own),
                Cell(", ".join(held)),
                Cell(", ".join(how)),
            ]
        )
    heads = w.row("figures", "head")
    return Table(heads, rows, (1, 2), widths=(4.2, 1.6, 1.6, 2.4, 2.2), small=True)


def _cell(p: Printing, v: Verdict | None) -> Cell:
    if v is None:
        return Cell(NONE)
    text = p.say.figure(v.figure) if v.figure is not None else NONE
    return Cell(text, v.level, v.proven, strong=v.figure is not None)


def _worst(p: Printing, w: Plain, check: str, side: str) -> tuple[Verdict | None, str]:
    """One check of one side as the worst valve stands, else of the design; and how it is known."""
    across: Across | None = next((a for a in p.here.built.sides[side] if a.check == check), None)
    if across is not None and across.stands:
        v = across.worst[1]
        read, of = across.measured, len(across.stands)
        begun = across.begun > 0
        if v.figure is None:
            return (v, w.told("figures", "missing")) if v.level is Level.OPEN else (None, "")
        if not read:
            # one height that was read there measures no speed: only where all that it rests on was
            return v, w.told("figures", "partly" if begun else "paper")
        if read < of:
            return v, w.told("figures", "measured_some", read=read, of=of)
        usual = any(s.coverage is not None and s.coverage.of(Leaf.TYPICAL) for s in across.stands)
        return v, w.told("figures", "measured_usual" if usual else "measured_all")
    found = next((x for x in p.here.design.verdicts if x.id == check and x.side in (side, None)), None)
    if found is None or found.figure is None:
        return None, ""
    return found, w.told("figures", "measured" if found.proven else "paper")


def _held_to(p: Printing, v: Verdict) -> str:
    limit, figure = v.limit, v.figure
    if limit is None or figure is None:
        return ""
    # the shop's own, whatever was loosened for this head
    limit = passing.shops(limit)
    low, high = (str(show(x, figure.dimension, p.say.system)) if x is not None else "" for x in (limit.low, limit.high))
    return f"{low} – {high}" if low and high else f"≥ {low}" if low else f"≤ {high}" if high else ""


def _bars(p: Printing, w: Plain) -> Iterator[Bar]:
    for side in SIDES:
        names = ("outer",) if p.current.build.side(side).stack.pack is Pack.SINGLE else ("outer", "inner")
        for name in names:
            ctx = p.here.design.sides[side]
            height = find(ctx, "stack.installed_height" if name == "outer" else "stack.inner_height")
            lift, reserve = find(ctx, "lift.gross"), find(ctx, f"spring.reserve.{name}")
            solid = get(p.current.build, f"{side}.stack.{name}.solid")
            known = [x for x in (height, lift, reserve) if isinstance(x, Figure)]
            if len(known) < 3 or not isinstance(solid, Entry):
                continue
            whole, up, rest = known
            side_name = w.told("figures", f"side_{side}").capitalize()
            spring = w.told("budget", name)
            yield Bar(
                w.told("budget", "whole", side=side_name, spring=spring, height=p.say.value(whole.value, LENGTH)),
                [
                    Gap(w.told("budget", "lift"), up.value, p.say.value(up.value, LENGTH)),
                    Gap(w.told("budget", "reserve"), rest.value, p.say.value(rest.value, LENGTH)),
                    Gap(w.told("budget", "solid"), solid.value, p.say.value(solid.value, LENGTH)),
                ],
                legend=False,
            )


def _limits(p: Printing, w: Plain) -> Iterator[str]:
    build = p.current.build
    if limiter := p.entry("brief.limiter"):
        yield w.told("limits", "limiter", limiter=limiter)
    for side in SIDES:
        permitted = find(p.here.design.sides[side], "piston.permitted")
        limit = get(build, f"{side}.cam.phaser_limit")
        if isinstance(limit, Entry):
            said = p.entry(f"{side}.cam.phaser_limit")
            yield w.told("limits", "phaser", side=w.told("figures", f"side_{side}"), range=said)
        elif isinstance(permitted, Figure) and isinstance(
            own := get(build, f"{side}.{WAYS[SIDES.index(side)]}"), Entry
        ):
            # no further than it goes, whatever would clear
            most = replace(permitted, value=min(permitted.value, own.value))
            yield w.told("limits", "phaser", side=w.told("figures", f"side_{side}"), range=p.say.figure(most))
    yield w.told("limits", "fuel", fuel=w.told("words", f"fuel_{build.brief.fuel.value}"))
    if boost := p.entry("brief.boost"):
        yield w.told("limits", "boost", boost=boost)
    made = set_up(p.here.sheet.events)
    if made is not None:
        yield w.told("limits", "stands", days=f"{made.standing_days:g}")
        if prelube(made.standing_days).bores != "oil":
            yield w.told("limits", "smoke")
    yield w.told("limits", "run_in")


def _next(p: Printing, w: Plain) -> str:
    return w.told("next", "look", when=p.signed.next_look) if p.signed else w.told("next", "none")


def _answers(p: Printing, w: Plain) -> str:
    made = p.signed
    if made is None:
        return w.told("answers", "unsigned")
    at = made.by.at
    day = f"{at.replace(tzinfo=at.tzinfo or UTC).astimezone():%-d %B %Y}" if at is not None else ""
    return w.told("answers", "signed", name=made.answers, hand=made.by.hand, day=day, revision=made.revision)
