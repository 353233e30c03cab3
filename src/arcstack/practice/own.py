"""A practice of a builder's own: a shipped one, and what it does otherwise."""

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints, ValidationError

from arcstack.errors import PracticeError
from arcstack.practice.loader import made, shipped
from arcstack.practice.model import Practice

OWN_FORMAT = "arc-stack-practice"
LARGEST = 200_000
"""Bytes that the file of a practice may have."""


def _printable(text: str) -> str:
    if not text.isprintable():
        raise ValueError("holds characters that cannot be printed")
    return text


_Line = AfterValidator(_printable)
Reason = Annotated[str, StringConstraints(min_length=3, max_length=300, strip_whitespace=True), _Line]
End = Annotated[str, StringConstraints(min_length=1, max_length=40), _Line]
Key = Annotated[str, StringConstraints(min_length=1, max_length=80), _Line]


class _Strict(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class OwnSchool(_Strict):
    """The side taken on one matter, and why."""

    value: bool | Annotated[str, StringConstraints(max_length=20)]
    reason: Reason


class OwnLimit(_Strict):
    """One limit: ends and the distance within which a value is tight, as text with units; and why."""

    low: End | None = None
    high: End | None = None
    tight: End | None = None
    reason: Reason


class OwnPractice(_Strict):
    """A named practice that stands on a shipped one; ``version`` rises with each change."""

    format: Literal["arc-stack-practice"] = "arc-stack-practice"
    id: Annotated[str, StringConstraints(pattern=r"^own-[0-9a-f]{8,32}$")]
    version: Annotated[int, Field(ge=1, le=100_000)] = 1
    name: Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True), _Line]
    about: Annotated[str, StringConstraints(max_length=300), _Line] = ""
    based_on: Annotated[str, StringConstraints(max_length=80), _Line]
    based_on_version: Annotated[int, Field(ge=1)] = 1
    schools: dict[Key, OwnSchool] = Field(default_factory=dict, max_length=40)
    limits: dict[Key, OwnLimit] = Field(default_factory=dict, max_length=200)

    def whole(self) -> Practice:
        """The practice with everything that it takes over. Raises ``PracticeError`` naming what is wrong."""
        return _whole(self.model_dump_json())


_made: dict[str, Practice] = {}


def _whole(text: str) -> Practice:
    found = _made.get(text)
    if found is None:
        own = OwnPractice.model_validate_json(text)
        under = shipped(own.based_on, own.based_on_version)
        limits: dict[str, Any] = dict(under["limits"])
        for key, limit in own.limits.items():
            if key not in limits:
                raise PracticeError(f"there is no limit called “{key}” in {under['name']}")
            limits[key] = limits[key] | limit.model_dump(exclude_none=True)
        schools = under["schools"] | {key: school.model_dump() for key, school in own.schools.items()}
        data = {"version": own.version, "name": own.name, "about": own.about or under["about"]}
        found = made(own.id, data | {"schools": schools, "limits": limits, "place": 100})
        if len(_made) > 200:
            _made.clear()
        _made[text] = found
    return found


def read_own(data: bytes | str) -> OwnPractice:
    """A practice from its JSON file. Raises ``PracticeError``, worded, for anything that is not a whole, sound one."""
    if len(data) > LARGEST:
        raise PracticeError(f"this file is longer than any practice ({LARGEST // 1000} kB)")
    try:
        text = data.decode("utf-8-sig") if isinstance(data, bytes) else data
        own = OwnPractice.model_validate_json(text)
    except UnicodeDecodeError as error:
        raise PracticeError("this is not text; choose the JSON file that was exported") from error
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        where = ".".join(str(p) for p in first["loc"]) or "the file"
        raise PracticeError(f"{where[:100]}: {first['msg'].removeprefix('Value error, ')[:200]}") from error
    own.whole()
    return own


def write_own(own: OwnPractice) -> str:
    """The practice as a JSON file that ``read_own`` reads."""
    return own.model_dump_json(indent=2, exclude_none=True) + "\n"
