"""A file may be one panel of its piece."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("delivery_file") as file:
        file.add_column(sa.Column("panel", sa.Integer()))
        file.add_column(sa.Column("panels", sa.Integer(), nullable=False, server_default="1"))


def downgrade() -> None:
    with op.batch_alter_table("delivery_file") as file:
        file.drop_column("panels")
        file.drop_column("panel")
