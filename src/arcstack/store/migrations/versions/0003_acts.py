"""What each revision was made by: a change, a step back or a step forward."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.add_column("revision", sa.Column("act", sa.String(8), nullable=False, server_default="change"))


def downgrade() -> None:
    op.drop_column("revision", "act")
