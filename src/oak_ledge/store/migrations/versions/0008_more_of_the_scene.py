"""Photos have retouches, steps and files know them; grounds and retouches are work to be made."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for table in ("photo", "delivery_file"):
        with op.batch_alter_table(table) as batch:
            batch.add_column(sa.Column("retouches", sa.Text(), nullable=False, server_default="{}"))
    with op.batch_alter_table("placement_step") as step:
        step.add_column(sa.Column("retouched", sa.Text()))
    op.create_table(
        "fill",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("made_of", sa.String(200), nullable=False, unique=True),
        sa.Column(
            "photo_id",
            sa.Integer(),
            sa.ForeignKey("photo.id", ondelete="CASCADE"),
            nullable=False,
            index=True,
        ),
        sa.Column("work", sa.Text(), nullable=False),
        sa.Column("pixels", sa.Integer(), nullable=False),
        sa.Column("state", sa.String(200), nullable=False),
        sa.Column("turn", sa.Integer(), nullable=False),
        sa.Column("asker", sa.String(200), nullable=False),
        sa.Column("worker", sa.String(200)),
        sa.Column("begun", sa.DateTime()),
        sa.Column("lease", sa.DateTime()),
        sa.Column("lost", sa.Integer(), nullable=False, server_default="0"),
        sa.Column("reason", sa.Text()),
    )


def downgrade() -> None:
    op.drop_table("fill")
    with op.batch_alter_table("placement_step") as step:
        step.drop_column("retouched")
    for table in ("photo", "delivery_file"):
        with op.batch_alter_table(table) as batch:
            batch.drop_column("retouches")
