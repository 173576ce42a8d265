"""Jobs have sheets, with a history of steps; layouts are kept; a file may be of a sheet."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def _owner(name: str, table: str) -> sa.Column[int]:
    key = sa.ForeignKey(f"{table}.id", ondelete="CASCADE")
    return sa.Column(name, sa.Integer(), key, nullable=False, index=True)


def upgrade() -> None:
    op.create_table(
        "sheet",
        sa.Column("id", sa.Integer(), primary_key=True),
        _owner("job_id", "job"),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("sheet", sa.Text(), nullable=False),
        sa.Column("step", sa.Integer(), nullable=False),
        sa.Column("added", sa.DateTime(), nullable=False),
    )
    op.create_table(
        "sheet_step",
        sa.Column("id", sa.Integer(), primary_key=True),
        _owner("sheet_id", "sheet"),
        sa.Column("step", sa.Integer(), nullable=False),
        sa.Column("what", sa.String(200), nullable=False),
        sa.Column("sheet", sa.Text(), nullable=False),
        sa.UniqueConstraint("sheet_id", "step"),
    )
    op.create_table(
        "sheet_layout",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(200), nullable=False, unique=True),
        sa.Column("layout", sa.Text(), nullable=False),
    )
    with op.batch_alter_table("delivery_file") as file:
        file.add_column(sa.Column("sheet_id", sa.Integer()))
        file.add_column(sa.Column("sheet", sa.Text()))


def downgrade() -> None:
    with op.batch_alter_table("delivery_file") as file:
        file.drop_column("sheet")
        file.drop_column("sheet_id")
    for table in ("sheet_layout", "sheet_step", "sheet"):
        op.drop_table(table)
