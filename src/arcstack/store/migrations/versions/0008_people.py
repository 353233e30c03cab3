"""People with a name, a role and a password, for a workshop that is served to a shop's network."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.create_table(
        "person",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("folded", sa.String(80), nullable=False, unique=True),
        sa.Column("role", sa.String(16), nullable=False),
        sa.Column("password", sa.String(200), nullable=False),
        sa.Column("mark", sa.String(32), nullable=False),
        sa.Column("active", sa.Boolean, nullable=False),
        sa.Column("changed", sa.DateTime, nullable=False),
    )
