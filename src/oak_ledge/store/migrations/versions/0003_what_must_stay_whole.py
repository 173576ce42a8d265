"""Photos know what of them must stay whole."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("photo") as photo:
        photo.add_column(sa.Column("keeps", sa.Text(), nullable=False, server_default="{}"))


def downgrade() -> None:
    with op.batch_alter_table("photo") as photo:
        photo.drop_column("keeps")
