"""Open formats in and out."""

from arcstack.formats.build_json import LARGEST, read_build, schema, write_build
from arcstack.formats.verdict_json import verdicts

__all__ = ["LARGEST", "read_build", "schema", "verdicts", "write_build"]
