"""What stand-in receivers received and answered, and the faults switched on at them."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "desk",
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("fault", sa.String(200), nullable=False),
        sa.Column("hung", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("name", name="pk_desk"),
    )
    op.create_table(
        "receipt",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("desk", sa.String(200), nullable=False),
        sa.Column("delivery_file_id", sa.Integer(), nullable=False),
        sa.Column("accepted", sa.Boolean(), nullable=False),
        sa.Column("words", sa.Text(), nullable=False),
        sa.Column("received", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["delivery_file_id"],
            ["delivery_file.id"],
            name="fk_receipt_delivery_file_id_delivery_file",
            ondelete="CASCADE",
        ),
        sa.PrimaryKeyConstraint("id", name="pk_receipt"),
    )
    op.create_index("ix_receipt_delivery_file_id", "receipt", ["delivery_file_id"])


def downgrade() -> None:
    op.drop_table("receipt")
    op.drop_table("desk")
