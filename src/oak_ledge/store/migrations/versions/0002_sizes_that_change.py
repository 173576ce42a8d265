"""Sizes carry the version they stand at, and can come back after they were deleted."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("size") as size:
        size.add_column(sa.Column("version", sa.Integer(), nullable=False, server_default="1"))
        size.add_column(sa.Column("deleted", sa.DateTime(), nullable=True))


def downgrade() -> None:
    with op.batch_alter_table("size") as size:
        size.drop_column("deleted")
        size.drop_column("version")
