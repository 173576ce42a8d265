"""The number of a standing order that ended is not given to the next one."""

from __future__ import annotations

from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    _made_anew(numbered_once=True)


def downgrade() -> None:
    _made_anew(numbered_once=False)


def _made_anew(*, numbered_once: bool) -> None:
    options = {"sqlite_autoincrement": numbered_once}
    with op.batch_alter_table("standing_order", recreate="always", table_kwargs=options):
        pass
