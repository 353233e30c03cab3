"""Parts on a shelf, and which of them the newest revision of a build carries."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.create_table(
        "part",
        sa.Column("key", sa.String(32), primary_key=True),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("retired", sa.Boolean, nullable=False, server_default=sa.false()),
        sa.Column("removed", sa.Boolean, nullable=False, server_default=sa.false()),
        sa.Column("changed", sa.DateTime, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        sa.UniqueConstraint("kind", "name"),
    )
    op.create_table(
        "fitted",
        sa.Column("build_id", sa.Integer, sa.ForeignKey("build.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("place", sa.String(40), primary_key=True),
        sa.Column("key", sa.String(32), nullable=False, index=True),
    )


def downgrade() -> None:
    raise NotImplementedError("an earlier program reads the copy that was made before the upgrade")
