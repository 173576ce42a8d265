"""Files and fills may be made on another machine; one that ends its workers is not begun for ever."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("delivery_file") as file:
        file.add_column(sa.Column("elsewhere", sa.Boolean(), nullable=False, server_default="0"))
        file.add_column(sa.Column("machine", sa.String(80)))
        file.add_column(sa.Column("lost", sa.Integer(), nullable=False, server_default="0"))
    with op.batch_alter_table("fill") as fill:
        fill.add_column(sa.Column("elsewhere", sa.Boolean(), nullable=False, server_default="0"))


def downgrade() -> None:
    with op.batch_alter_table("fill") as fill:
        fill.drop_column("elsewhere")
    with op.batch_alter_table("delivery_file") as file:
        for name in ("lost", "machine", "elsewhere"):
            file.drop_column(name)
