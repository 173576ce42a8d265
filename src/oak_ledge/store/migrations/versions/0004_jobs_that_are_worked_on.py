"""Jobs have notes, a due date, an order, and can be put away; many steps at once are one."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("job") as job:
        job.add_column(sa.Column("notes", sa.Text(), nullable=False, server_default=""))
        job.add_column(sa.Column("due", sa.Date()))
        job.add_column(sa.Column("away", sa.DateTime()))
        job.add_column(sa.Column("deleted", sa.DateTime()))
    for table in ("job_photo", "job_size"):
        with op.batch_alter_table(table) as row:
            row.add_column(sa.Column("position", sa.Integer(), nullable=False, server_default="0"))
            row.add_column(sa.Column("out", sa.DateTime()))
        op.execute(f"UPDATE {table} SET position = id")
    with op.batch_alter_table("photo") as photo:
        photo.add_column(sa.Column("found", sa.Text()))
    op.create_table(
        "batch",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("what", sa.String(200), nullable=False),
        sa.Column("done", sa.DateTime(), nullable=False),
        sa.Column("undone", sa.Boolean(), nullable=False),
        sa.Column("changes", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["job_id"], ["job.id"], name="fk_batch_job_id_job", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_batch"),
    )
    op.create_index("ix_batch_job_id", "batch", ["job_id"])


def downgrade() -> None:
    op.drop_table("batch")
    with op.batch_alter_table("photo") as photo:
        photo.drop_column("found")
    for table in ("job_photo", "job_size"):
        with op.batch_alter_table(table) as row:
            row.drop_column("position")
            row.drop_column("out")
    with op.batch_alter_table("job") as job:
        for name in ("notes", "due", "away", "deleted"):
            job.drop_column(name)
