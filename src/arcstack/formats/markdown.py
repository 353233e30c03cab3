"""Reference pages written from the code itself, so that they cannot fall behind it."""

from collections.abc import Iterator

from arcstack.assess import checks
from arcstack.checks import Sense
from arcstack.document import FIELDS, FORMAT, VERSION, Field, Kind
from arcstack.practice import LimitSpec, practices
from arcstack.settings import SETTINGS
from arcstack.units import System, show

PAGES = ("build-document.md", "practices.md", "settings.md", "verdicts.md")


def page(name: str) -> str:
    """The text of one of ``PAGES``."""
    writers = {
        "build-document.md": _build_document,
        "practices.md": _practices,
        "settings.md": _settings,
        "verdicts.md": _verdicts,
    }
    return "\n".join(writers[name]()) + "\n"


def _build_document() -> Iterator[str]:
    yield "# The build document"
    yield ""
    yield f"A build is one JSON object with `format` “{FORMAT}” and `version` {VERSION}. `arc-stack schema` prints its"
    yield "JSON Schema. Every figure is an object:"
    yield ""
    yield "- `value`: canonical, in the unit of the table below;"
    yield "- `typed`: the text as it was typed, with its unit; it must give the same value;"
    yield "- `evidence`: `measured`, `printed`, `calculated` or `assumed`;"
    yield "- `by`, where there is one: `hand`, `instrument` and `at` (UTC). *Measured* has both a hand and an instrument,"
    yield "  without them it counts as assumed;"
    yield "- `outdated`, where there is one: the change since which it no longer stands for what is fitted."
    yield ""
    yield 'A figure that is not known is left out or `null`. Where a hand said that there is none, `{"none": true, "by": …}`'
    yield "stands instead; the fields that take it are marked in the table. What is left out of a part stands as the schema's"
    yield "default says. Lists are written in order, `null` or `{}` where nothing stands in a place, with nothing empty at the"
    yield "end; paths count their places from 1. `follower` has a part for each kind; the engine says which is fitted."
    yield ""
    yield "Documents of versions 1 and 2 are read too, each brought up step by step. Unknown fields, doubled fields, figures"
    yield "out of range, parts that cannot be, and documents of a newer version are refused with the field or the line."
    yield "`practice_version` is the version of the practice that a revision was judged by. `notes` holds notes on single"
    yield "fields by path, `overrides` limits changed for this build by limit key: `low` and `high` as figures, a `reason`."
    yield ""
    yield "The fields of `exhaust` are those of `intake`."
    yield ""
    yield "| field | what | holds | from | to |"
    yield "|---|---|---|---|---|"
    for field in FIELDS.defined:
        if not field.path.startswith("exhaust."):
            yield _field_row(field.path, field)


def _field_row(path: str, field: Field) -> str:
    words = field.label + (f". {field.help}" if field.help else "")
    if field.quantity is not None and field.quantity.none:
        words += f" *None*: {field.quantity.none}." if field.help else f". *None*: {field.quantity.none}."
    if field.kind is Kind.CHOICE:
        return f"| `{path}` | {words} | {', '.join(field.options)} | | |"
    if field.quantity is None:
        return f"| `{path}` | {words} | text | | |"
    q = field.quantity
    unit = f"{q.dimension.name}" + (f", {q.dimension.canonical_word}" if q.dimension.canonical_word else "")
    return f"| `{path}` | {words} | {unit} | {show(q.low, q.dimension)} | {show(q.high, q.dimension)} |"


def _limit(spec: LimitSpec) -> str:
    def both(value: float | None) -> str:
        metric = show(value or 0.0, spec.dimension, System.MM)
        inch = show(value or 0.0, spec.dimension, System.INCH)
        return str(metric) if metric == inch else f"{metric} ({inch})"

    words = {
        Sense.AT_LEAST: f"at least {both(spec.low)}",
        Sense.AT_MOST: f"at most {both(spec.high)}",
        Sense.BAND: f"{both(spec.low)} to {both(spec.high)}",
    }[spec.sense]
    return words + (", above it tight" if spec.soft_high else "") + (", below it tight" if spec.soft_low else "")


def _practices() -> Iterator[str]:
    yield "# Practices"
    yield ""
    yield "A practice is a school's limits as data, with a reason for each. One is chosen for a build; any limit can be"
    yield "changed for one build, with a reason of the builder's own. None is a law: the maker's data comes first."
    for p in practices():
        yield ""
        yield f"## {p.name}"
        yield ""
        yield p.about
        yield ""
        yield f"- Boost: the {p.schools.boost} rule judges, the other is shown. {p.school_reasons['boost']}"
        taken = "with the gas force taken off the spring" if p.schools.gas_in_separation else "on the spring alone"
        yield f"- Separation is judged {taken}. {p.school_reasons['gas_in_separation']}"
        lift = (
            "a lift measured at the valve governs" if p.schools.lift_basis == "measured" else "lobe × ratio, less lash"
        )
        yield f"- Lift: {lift}. {p.school_reasons['lift_basis']}"
        load = {
            "light": "too much is judged",
            "heavy": "too little is judged, what it costs is shown",
            "band": "both ends are judged",
        }[p.schools.load]
        yield f"- Load: {load}. {p.school_reasons['load']}"
        reserve = "a floor and a ceiling" if p.schools.reserve == "band" else "a floor only"
        yield f"- Reserve: {reserve}. {p.school_reasons['reserve']}"
        yield ""
        yield "| limit | value | tight within | why |"
        yield "|---|---|---|---|"
        for key, spec in p.limits.items():
            yield f"| `{key}` | {_limit(spec)} | {show(spec.tight, spec.dimension)} | {spec.reason} |"


def _settings() -> Iterator[str]:
    yield "# Settings"
    yield ""
    yield "Figures that are neither a practice's limits nor physics. Each stands in one table, `arcstack/settings.py`."
    yield ""
    yield "| setting | default | unit | what it is for |"
    yield "|---|---|---|---|"
    for s in SETTINGS.values():
        yield f"| `{s.name}` | {s.default:,g} | {s.unit} | {s.help} |"


def _verdicts() -> Iterator[str]:
    yield "# Verdicts"
    yield ""
    yield "Each check gives one verdict a side, with the same id on screen, in JSON and in tests."
    yield ""
    yield "- **Level**: *clear*, *tight* (within a stated distance of the limit, on its good side), *fail*, *open* (an input"
    yield "  is missing, and the verdict names it; or its figures are out of reason), or *waived* (it passes only by a limit"
    yield "  or an assumption that a hand loosened for this build)."
    yield "- **Band**: what an estimated lobe, a noisy table or an assumed train leaves open. *Clear* needs the whole band"
    yield "  clear; where it reaches the limit or its tight zone the verdict is *tight*; it fails when the figure itself does."
    yield "- **Evidence**: *proven* when everything that drives the figure was measured, with an instrument and by a hand, at"
    yield "  every valve it stands at, or said to be *none*; else *on paper*. One measured figure of eight valves is 1 of 8."
    yield "- Reserve, retainer to seal and piston clearance are judged with the lash closed to nothing: lash can vanish as"
    yield "  seats wear. Loads and the drawing use net lift."
    yield "- Of the two gas rules the practice's judges; the other is shown with `judges` false. A school that is heavy for"
    yield "  power shows what load costs without judging it; one with a floor only does so with the reserve's ceiling."
    yield "- `control.elastic_separation`, `control.seating_velocity` and `control.bounce` rest on a sweep of the elastic"
    yield "  train, each speed turned until it repeats: the command works it out, a page shows a first look at once and the"
    yield "  verdicts when it has come. Both carry the band that what is assumed of train, seat, coils and curve leaves."
    yield ""
    yield "`arc-stack check BUILD.json --json` prints a list of objects with `id`, `side`, `value` and `unit` (canonical),"
    yield "`limit` (sense, low, high, tight_within, reason, origin), `band`, `at_least` (no end was found, this is the most"
    yield "that was tried), `level`, `waived` (by whom, when, why, what the practice holds to), `evidence`, `weakest`,"
    yield "`measured_at` (places of how many; none while anything of it was measured nowhere), `not_measured` (what is"
    yield "still owed), `judges`, `missing`, `note` and `working` (the steps, each with formula, inputs, and what it rests on"
    yield "beside them). It ends with 1 when a check that judges fails, with 2 when the file is no build, with 3 when no check that"
    yield "judges could be worked."
    yield ""
    yield "| id | title | stage | what it asks |"
    yield "|---|---|---|---|"
    for check in checks().values():
        yield f"| `{check.id}` | {check.title} | {check.stage} | {check.about} |"
