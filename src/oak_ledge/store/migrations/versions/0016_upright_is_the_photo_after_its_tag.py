"""What a placement called `upright` is how its crop lay before it was levelled, and is called so."""

from __future__ import annotations

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None

# Every column that holds placements, alone or inside what was ordered.
COLUMNS = (
    ("placement", "placement"),
    ("placement_step", "placement"),
    ("delivery_file", "placement"),
    ("delivery_file", "former"),
    ("delivery_file", "sheet"),
)


def renamed(value: Any, before: str, after: str) -> Any:
    """Return JSON with a field of each placement in it under its other name."""
    if isinstance(value, list):
        return [renamed(part, before, after) for part in value]
    if not isinstance(value, dict):
        return value
    parts = {key: renamed(part, before, after) for key, part in value.items()}
    if {"cx", "cy", "width", before} <= parts.keys():
        parts = {after if key == before else key: part for key, part in parts.items()}
    return parts


def rename(before: str, after: str) -> None:
    rows = op.get_bind()
    for table, column in COLUMNS:
        found = rows.execute(
            sa.text(f"SELECT id, {column} FROM {table} WHERE {column} LIKE :field"),
            {"field": f'%"{before}"%'},
        ).all()
        for number, stored in found:
            rows.execute(
                sa.text(f"UPDATE {table} SET {column} = :value WHERE id = :id"),
                {"value": json.dumps(renamed(json.loads(stored), before, after)), "id": number},
            )


def upgrade() -> None:
    rename("upright", "before_levelling")


def downgrade() -> None:
    rename("before_levelling", "upright")
