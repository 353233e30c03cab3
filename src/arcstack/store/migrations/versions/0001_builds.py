"""Builds and their revisions."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "build",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("head", sa.Integer, nullable=False),
        sa.Column("changed", sa.DateTime, nullable=False),
    )
    op.create_index("ix_build_changed", "build", ["changed"])
    op.create_table(
        "revision",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("build_id", sa.Integer, sa.ForeignKey("build.id", ondelete="CASCADE"), nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("author", sa.String(80), nullable=False),
        sa.Column("reason", sa.String(200), nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        sa.UniqueConstraint("build_id", "number"),
        sa.CheckConstraint("number >= 1"),
    )


def downgrade() -> None:
    op.drop_table("revision")
    op.drop_table("build")
