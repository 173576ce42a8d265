"""How grave a piece's notes are is kept, so that a large job is counted without working them out."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "placement_level",
        sa.Column(
            "placement_id",
            sa.Integer(),
            sa.ForeignKey("placement.id", ondelete="CASCADE"),
            primary_key=True,
        ),
        sa.Column("of", sa.String(200), nullable=False),
        sa.Column("level", sa.String(200), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("placement_level")
