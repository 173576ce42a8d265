"""Receivers are data, and what came of each file for them is kept; the three there were become such."""

from __future__ import annotations

import json
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None

_PAPERS = [
    "4x6in",
    "5x7in",
    "6x8in",
    "8x8in",
    "8x10in",
    "8x12in",
    "11x14in",
    "12x18in",
    "16x20in",
    "20x30in",
    "24x36in",
    "105x148mm",
    "148x210mm",
    "210x297mm",
    "297x420mm",
    "420x594mm",
    "10x15cm",
    "13x18cm",
    "20x30cm",
    "20x25cm",
    "24x30cm",
    "30x40cm",
    "40x50cm",
    "50x70cm",
    "40x60cm",
]
# As receivers were first written, by the names the three had before.
_THREE: dict[str, dict[str, Any]] = {
    "lab": {
        "receiver_version": 1,
        "name": "Harbour print lab",
        "takes": {
            "sizes": _PAPERS,
            "ppi": [150, 720],
            "formats": ["jpeg", "tiff"],
            "profiles": ["srgb", "p3"],
            "bleed": "3mm",
        },
        "way": {
            "kind": "sftp",
            "url": "sftp://prints@lab.example/in",
            "secret": "env:LAB_PASSWORD",
        },
    },
    "marketplace": {
        "receiver_version": 1,
        "name": "Stall marketplace",
        "takes": {
            "long_edge": [1600, None],
            "formats": ["jpeg", "png", "webp"],
            "at_most": "5MB",
            "most_files": 12,
            "first_on_plain_ground": True,
        },
        "way": {
            "kind": "http",
            "url": "https://pictures.stall.example/in",
            "secret": "env:STALL_TOKEN",
        },
    },
    "sign": {
        "receiver_version": 1,
        "name": "Sign on the quay",
        "takes": {"pixels": [[384, 160]], "formats": ["png", "jpeg"], "at_most": "150kB"},
        "way": {
            "kind": "webdav",
            "url": "https://sign.example/now",
            "user": "quay",
            "secret": "env:SIGN_PASSWORD",
        },
    },
}
_FAULTS = {"slow": "slow", "refuses": "refuse", "breaks off": "break-off"}


def upgrade() -> None:
    op.create_table(
        "receiver",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("receiver", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("paused", sa.Boolean(), nullable=False),
        sa.Column("rehearsing", sa.Boolean(), nullable=False),
        sa.Column("fault", sa.String()),
        sa.Column("deleted", sa.DateTime()),
        sa.PrimaryKeyConstraint("id", name="pk_receiver"),
        sqlite_autoincrement=True,
    )
    op.create_table(
        "sending",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("receiver_id", sa.Integer(), nullable=False),
        sa.Column("rehearsed", sa.Boolean(), nullable=False),
        sa.Column("apart", sa.Boolean(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("bytes", sa.Integer(), nullable=False),
        sa.Column("path", sa.Text(), nullable=False),
        sa.Column("state", sa.String(200), nullable=False),
        sa.Column("reasons", sa.Text(), nullable=False),
        sa.Column("fixes", sa.Text(), nullable=False),
        sa.Column("receipt", sa.Text()),
        sa.Column("tries", sa.Integer(), nullable=False),
        sa.Column("sent", sa.Integer(), nullable=False),
        sa.Column("again_at", sa.DateTime()),
        sa.Column("begun", sa.DateTime()),
        sa.Column("changed", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["receiver_id"],
            ["receiver.id"],
            name="fk_sending_receiver_id_receiver",
            ondelete="CASCADE",
        ),
        sa.PrimaryKeyConstraint("id", name="pk_sending"),
        sa.UniqueConstraint(
            "receiver_id", "rehearsed", "name", "sha256", name="uq_sending_receiver_id"
        ),
    )
    op.create_index("ix_sending_receiver_id", "sending", ["receiver_id"])
    _add_columns()
    _carry_over()
    op.drop_table("receipt")
    op.drop_table("desk")


def _add_columns() -> None:
    op.add_column("standing_order", sa.Column("receiver_id", sa.Integer()))
    op.add_column("delivery", sa.Column("send_to", sa.Integer()))
    op.add_column("placement", sa.Column("word", sa.Text()))


def _carry_over() -> None:
    """Keep the three as they were, each with its stand-in and what it received."""
    base = op.get_bind()
    for number, (name, receiver) in enumerate(_THREE.items(), 1):
        fault = base.execute(
            sa.text("SELECT fault FROM desk WHERE name = :n"), {"n": name}
        ).scalar()
        base.execute(
            sa.text(
                "INSERT INTO receiver (id, name, receiver, version, paused, rehearsing, fault) "
                "VALUES (:id, :name, :receiver, 1, 0, 1, :fault)"
            ),
            {
                "id": number,
                "name": receiver["name"],
                "receiver": json.dumps(receiver),
                "fault": _FAULTS.get(str(fault)),
            },
        )
        receipts = sa.text(
            "SELECT r.accepted, r.words, r.received, f.name, f.measured, f.delivery_id "
            "FROM receipt r JOIN delivery_file f ON f.id = r.delivery_file_id "
            "WHERE r.desk = :n ORDER BY r.id"
        )
        for row in base.execute(receipts, {"n": name}):
            measured = json.loads(row.measured or "{}")
            base.execute(
                sa.text(
                    "INSERT OR REPLACE INTO sending (receiver_id, rehearsed, apart, name, sha256, bytes, "
                    "path, state, reasons, fixes, receipt, tries, sent, changed) VALUES (:id, 1, 0, "
                    ":name, :sha, :bytes, :path, :state, :reasons, '{}', :receipt, 1, 0, :at)"
                ),
                {
                    "id": number,
                    "name": row.name or "",
                    "sha": measured.get("sha256") or "",
                    "bytes": measured.get("bytes") or 0,
                    "path": f"deliveries/{row.delivery_id}/{row.name or ''}",
                    "state": "accepted" if row.accepted else "refused",
                    "reasons": json.dumps({"words": [] if row.accepted else [row.words]}),
                    "receipt": row.words if row.accepted else None,
                    "at": row.received,
                },
            )


def downgrade() -> None:
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
    op.drop_column("placement", "word")
    op.drop_column("delivery", "send_to")
    op.drop_column("standing_order", "receiver_id")
    op.drop_table("sending")
    op.drop_table("receiver")
