"""Files of a delivery are claimed by workers, photo by photo; deliveries take turns."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("delivery") as delivery:
        delivery.add_column(sa.Column("served", sa.Integer(), nullable=False, server_default="0"))
    with op.batch_alter_table("delivery_file") as file:
        file.add_column(sa.Column("photo_id", sa.Integer(), nullable=False, server_default="0"))
        file.add_column(sa.Column("worker", sa.String(200)))
        file.add_column(sa.Column("made_of", sa.String(200)))
        file.add_column(sa.Column("finished", sa.DateTime()))


def downgrade() -> None:
    with op.batch_alter_table("delivery_file") as file:
        for name in ("photo_id", "worker", "made_of", "finished"):
            file.drop_column(name)
    with op.batch_alter_table("delivery") as delivery:
        delivery.drop_column("served")
