"""Sessions, guesses, a trail, addresses of instruments, numbers that are gone, and seals."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.create_table(
        "signed_in",
        sa.Column("key", sa.String(64), primary_key=True),
        sa.Column("person_id", sa.Integer, sa.ForeignKey("person.id", ondelete="CASCADE"), nullable=False),
        sa.Column("began", sa.DateTime, nullable=False),
        sa.Column("used", sa.DateTime, nullable=False),
        sa.Column("device", sa.String(120), nullable=False),
        sa.Column("address", sa.String(45), nullable=False),
        sa.Column("ended", sa.DateTime, nullable=True),
    )
    op.create_table(
        "guess",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("address", sa.String(45), nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
    )
    op.create_table(
        "trail",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("who", sa.String(80), nullable=False),
        sa.Column("act", sa.String(24), nullable=False),
        sa.Column("about", sa.String(400), nullable=False),
        sa.Column("address", sa.String(45), nullable=False),
        sqlite_autoincrement=True,
    )
    op.create_table(
        "link_address",
        sa.Column("address", sa.String(120), primary_key=True),
        sa.Column("by", sa.String(80), nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
    )
    op.create_table(
        "numbers",
        sa.Column("of", sa.String(16), primary_key=True),
        sa.Column("last", sa.Integer, nullable=False),
    )
    op.create_table(
        "seal",
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("identity", sa.String(32), nullable=False),
        sa.Column("event", sa.Integer, nullable=False),
        sa.Column("before", sa.String(64), nullable=False),
        sa.Column("digest", sa.String(64), nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
    )
    op.add_column("person", sa.Column("second", sa.String(64), nullable=False, server_default=""))
    op.add_column("person", sa.Column("second_used", sa.Integer, nullable=False, server_default="0"))
    _addresses()


def _addresses() -> None:
    """Where instruments were linked to before there was a list, they may be from now on."""
    rows = op.get_bind()
    found = [
        json.loads(text).get("address", "") for (text,) in rows.execute(sa.text("SELECT document FROM instrument"))
    ]
    for address in sorted({a for a in found if a}):
        rows.execute(
            sa.text("INSERT INTO link_address (address, by, at) VALUES (:a, 'as it was', CURRENT_TIMESTAMP)"),
            {"a": address},
        )


def downgrade() -> None:
    raise NotImplementedError("an earlier program reads the copy that was made before the upgrade")
