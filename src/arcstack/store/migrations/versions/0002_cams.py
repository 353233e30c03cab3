"""Cams kept by name."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.create_table(
        "cam",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("key", sa.String(40), nullable=False, unique=True),
        sa.Column("name", sa.String(80), nullable=False, unique=True),
        sa.Column("origin", sa.String(200), nullable=False),
        sa.Column("changed", sa.DateTime, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
    )


def downgrade() -> None:
    op.drop_table("cam")
