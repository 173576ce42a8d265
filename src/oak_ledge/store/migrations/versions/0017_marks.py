"""Marks: logos, signatures and lines of text, with their files."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "mark",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("mark", sa.Text(), nullable=False),
        sa.Column("text", sa.Text()),
        sa.Column("added", sa.DateTime(), nullable=False),
        sa.Column("deleted", sa.DateTime()),
    )
    op.create_table(
        "mark_picture",
        sa.Column("hash", sa.String(64), primary_key=True),
        sa.Column("data", sa.LargeBinary(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("mark_picture")
    op.drop_table("mark")
