"""Standing orders: folders whose photos become files by themselves."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "standing_order",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("folder", sa.Text(), nullable=False, unique=True),
        sa.Column("out", sa.Text(), nullable=False),
        sa.Column("sizes", sa.Text(), nullable=False),
        sa.Column("on", sa.Boolean(), nullable=False),
        sa.Column("trouble", sa.Text()),
        sa.Column("added", sa.DateTime(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("standing_order")
