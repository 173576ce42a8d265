"""The faces of each photo, found or set, and what a step changed of them."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("photo", sa.Column("faces", sa.Text()))
    op.add_column("placement_step", sa.Column("faced", sa.Text()))


def downgrade() -> None:
    op.drop_column("placement_step", "faced")
    op.drop_column("photo", "faces")
