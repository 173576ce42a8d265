"""Deliveries keep what they were asked for; steps keep the size they lay on; leases of workers."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

FROZEN = """
UPDATE delivery_file SET
  photo_hash = COALESCE((SELECT hash FROM photo WHERE photo.id = delivery_file.photo_id), ''),
  placement = (SELECT placement FROM placement WHERE placement.id = delivery_file.placement_id),
  size = (SELECT size FROM job_size JOIN placement ON placement.job_size_id = job_size.id
          WHERE placement.id = delivery_file.placement_id)
"""
# Four corners were always made to fit the size's own ratio; those laid so far stay as they were.
FITTED = """
UPDATE {table} SET placement = json_set(placement, '$.fit_corners', json('true'))
WHERE json_type(placement, '$.corners') = 'array'
"""


def upgrade() -> None:
    for table in ("placement", "placement_step"):
        op.execute(FITTED.format(table=table))
    with op.batch_alter_table("placement_step") as step:
        step.add_column(sa.Column("size", sa.Text()))
    with op.batch_alter_table("delivery_file") as file:
        file.add_column(sa.Column("photo_hash", sa.String(200), nullable=False, server_default=""))
        file.add_column(sa.Column("size", sa.Text()))
        file.add_column(sa.Column("placement", sa.Text()))
        file.add_column(sa.Column("lease", sa.DateTime()))
        file.add_column(sa.Column("former", sa.Text()))
    op.execute(FROZEN)
    # The table is put together anew; what belongs to its rows would go with the old one.
    op.execute("CREATE TEMPORARY TABLE kept_receipt AS SELECT * FROM receipt")
    with op.batch_alter_table("delivery_file") as file:
        file.alter_column("size", nullable=False)
        file.alter_column("placement", nullable=False)
    op.execute("INSERT OR IGNORE INTO receipt SELECT * FROM kept_receipt")
    op.execute("DROP TABLE kept_receipt")


def downgrade() -> None:
    with op.batch_alter_table("delivery_file") as file:
        for name in ("photo_hash", "size", "placement", "lease", "former"):
            file.drop_column(name)
    with op.batch_alter_table("placement_step") as step:
        step.drop_column("size")
