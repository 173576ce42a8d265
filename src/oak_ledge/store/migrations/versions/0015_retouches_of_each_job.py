"""What is painted over on a photo belongs to it in its job: each job has its own."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

# Every job goes on with what its pieces show today; a job to come begins without it.
CARRIED = "UPDATE job_photo SET retouches = (SELECT retouches FROM photo WHERE photo.id = photo_id)"
EMPTIED = "UPDATE photo SET retouches = '{}' WHERE id IN (SELECT photo_id FROM job_photo)"
BACK = """
UPDATE photo SET retouches = COALESCE(
  (SELECT retouches FROM job_photo WHERE photo_id = photo.id AND retouches != '{}' ORDER BY id LIMIT 1),
  retouches)
"""


def upgrade() -> None:
    with op.batch_alter_table("job_photo") as batch:
        batch.add_column(sa.Column("retouches", sa.Text(), nullable=False, server_default="{}"))
    op.execute(CARRIED)
    op.execute(EMPTIED)


def downgrade() -> None:
    op.execute(BACK)
    with op.batch_alter_table("job_photo") as batch:
        batch.drop_column("retouches")
