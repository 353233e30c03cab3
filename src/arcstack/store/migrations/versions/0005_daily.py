"""What the list of builds shows and is searched by, builds put away, and practices of one's own."""

import json
import zlib

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"

_COLUMNS = (
    "customer VARCHAR(80) NOT NULL DEFAULT ''",
    "job VARCHAR(80) NOT NULL DEFAULT ''",
    "words VARCHAR(600) NOT NULL DEFAULT ''",
    "identity VARCHAR(32) NOT NULL DEFAULT ''",
    "archived DATETIME",
    "deleted DATETIME",
    "worst INTEGER",
    "summary TEXT",
)


def upgrade() -> None:
    connection = op.get_bind()
    # in place: a table made anew would be dropped first, and every revision with it
    for column in _COLUMNS:
        op.execute(f"ALTER TABLE build ADD COLUMN {column}")
    op.execute("UPDATE build SET identity = lower(hex(randomblob(16)))")
    op.create_index("ix_build_identity", "build", ["identity"])
    op.create_table(
        "practice",
        sa.Column("key", sa.String(40), primary_key=True),
        sa.Column("name", sa.String(80), nullable=False, unique=True),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("changed", sa.DateTime, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
    )
    rows = connection.execute(
        sa.text("SELECT b.id, r.document FROM build b JOIN revision r ON r.build_id = b.id AND r.number = b.newest")
    )
    for build_id, document in rows.fetchall():
        connection.execute(
            sa.text("UPDATE build SET customer = :customer, job = :job, words = :words WHERE id = :id"),
            {"id": build_id, **_said(document)},
        )


def _said(document: bytes) -> dict[str, str]:
    """What a document says of the job; nothing of one that cannot be read."""
    try:
        raw = json.loads(zlib.decompress(document))
        job, head, engine = (raw.get(name) or {} for name in ("job", "head", "engine"))
        words = [str(raw.get("name", "")), *(str(v) for part in (job, head) for v in part.values())]
        words.append(str(engine.get("code", "")))
        told = {"customer": str(job.get("customer", ""))[:80], "job": str(job.get("number", ""))[:80]}
    except (ValueError, AttributeError, zlib.error):
        return {"customer": "", "job": "", "words": ""}
    return told | {"words": " ".join(words).casefold()[:600]}


def downgrade() -> None:
    raise NotImplementedError("an earlier program reads the copy that was made before the upgrade")
