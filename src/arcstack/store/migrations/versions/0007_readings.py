"""Readings of the bench and what was done there, rows that are only ever added; and the workshop's instruments."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.create_table(
        "reading",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("build_id", sa.Integer, sa.ForeignKey("build.id", ondelete="CASCADE"), nullable=False),
        sa.Column("key", sa.String(40), nullable=False),
        sa.Column("place", sa.String(12), nullable=False),
        sa.Column("item", sa.String(20), nullable=False),
        sa.Column("value", sa.Double, nullable=False),
        sa.Column("typed", sa.String(40), nullable=False),
        sa.Column("hand", sa.String(80), nullable=False),
        sa.Column("instrument", sa.String(80), nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("phase", sa.String(16), nullable=False),
        sa.Column("service", sa.Integer, nullable=False),
        sa.Column("replaces", sa.Integer),
        sa.Column("void", sa.Boolean, nullable=False),
        sa.Column("more", sa.Text, nullable=False),
    )
    op.create_index("ix_reading_build", "reading", ["build_id"])
    op.create_table(
        "event",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("build_id", sa.Integer, sa.ForeignKey("build.id", ondelete="CASCADE"), nullable=False),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("hand", sa.String(80), nullable=False),
        sa.Column("instrument", sa.String(80), nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("body", sa.Text, nullable=False),
    )
    op.create_index("ix_event_build", "event", ["build_id"])
    op.create_table(
        "instrument",
        sa.Column("name", sa.String(40), primary_key=True),
        sa.Column("document", sa.Text, nullable=False),
    )


def downgrade() -> None:
    raise NotImplementedError("an earlier program reads the copy that was made before the upgrade")
