"""Documents packed small, reasons as data, and who carries which kept cam."""

import json
import re
import zlib

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"

_RESTORED = re.compile(r"restored revision (\d+)")
_STEP = re.compile(r"step (?:back|forward) to revision (\d+)")


def upgrade() -> None:
    connection = op.get_bind()
    # in place: a table made anew would be dropped first, and every revision with it
    op.execute("ALTER TABLE build RENAME COLUMN head TO newest")
    op.create_table(
        "carried",
        sa.Column("build_id", sa.Integer, sa.ForeignKey("build.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("side", sa.String(8), primary_key=True),
        sa.Column("key", sa.String(40), nullable=False),
    )
    op.create_index("ix_carried_key", "carried", ["key"])
    op.rename_table("revision", "revision_0003")
    op.create_table(
        "revision",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("build_id", sa.Integer, sa.ForeignKey("build.id", ondelete="CASCADE"), nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("author", sa.String(80), nullable=False),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("path", sa.String(120), nullable=False, server_default=""),
        sa.Column("before", sa.String(200), nullable=False, server_default=""),
        sa.Column("after", sa.String(200), nullable=False, server_default=""),
        sa.Column("other", sa.Integer),
        sa.Column("document", sa.LargeBinary, nullable=False),
        sa.UniqueConstraint("build_id", "number"),
        sa.CheckConstraint("number >= 1"),
    )
    columns = "id, build_id, number, at, author, reason, act, document"
    newest = {r.id: r.newest for r in connection.execute(sa.text("SELECT id, newest FROM build"))}
    rows = connection.execute(sa.text(f"SELECT {columns} FROM revision_0003 ORDER BY id"))
    while batch := rows.fetchmany(200):
        connection.execute(
            sa.text(
                "INSERT INTO revision (id, build_id, number, at, author, kind, after, other, document) "
                "VALUES (:id, :build_id, :number, :at, :author, :kind, :after, :other, :document)"
            ),
            [_row(r) for r in batch],
        )
        carried = [c for r in batch if newest.get(r.build_id) == r.number for c in _carried(r.build_id, r.document)]
        if carried:
            connection.execute(
                sa.text("INSERT INTO carried (build_id, side, key) VALUES (:build_id, :side, :key)"), carried
            )
    op.drop_table("revision_0003")


def _row(r: sa.Row) -> dict[str, object]:  # type: ignore[type-arg]
    kind, other, said = "told", None, r.reason
    if found := _RESTORED.fullmatch(r.reason):
        kind, other, said = "restored", int(found[1]), ""
    elif r.act in ("back", "forward"):
        step = _STEP.fullmatch(r.reason)
        kind, other, said = r.act, int(step[1]) if step else None, ""
    return {
        "id": r.id, "build_id": r.build_id, "number": r.number, "at": r.at, "author": r.author, "kind": kind,
        "after": said, "other": other, "document": zlib.compress(r.document.encode(), 6),
    }  # fmt: skip


def _carried(build_id: int, text: str) -> list[dict[str, object]]:
    """Kept cams of a document, which held them at ``<side>.cam.kept``; none of one that cannot be read."""
    try:
        raw = json.loads(text)
        keys = {side: raw.get(side, {}).get("cam", {}).get("kept", "") for side in ("intake", "exhaust")}
    except (ValueError, AttributeError):
        return []
    return [{"build_id": build_id, "side": side, "key": key} for side, key in keys.items() if key]


def downgrade() -> None:
    raise NotImplementedError("an earlier program reads the copy that was made before the upgrade")
