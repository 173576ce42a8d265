"""The first tables."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "job",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("added", sa.DateTime(), nullable=False),
        sa.Column("touched", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_job")),
    )
    op.create_table(
        "photo",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("hash", sa.String(length=200), nullable=False),
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("facts", sa.Text(), nullable=False),
        sa.Column("added", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_photo")),
        sa.UniqueConstraint("hash", name=op.f("uq_photo_hash")),
    )
    op.create_table(
        "size",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("group", sa.String(length=200), nullable=False),
        sa.Column("size", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_size")),
    )
    op.create_table(
        "delivery",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("state", sa.String(length=200), nullable=False),
        sa.Column("added", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["job_id"], ["job.id"], name=op.f("fk_delivery_job_id_job"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_delivery")),
    )
    with op.batch_alter_table("delivery", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_delivery_job_id"), ["job_id"], unique=False)

    op.create_table(
        "job_photo",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("photo_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["job_id"], ["job.id"], name=op.f("fk_job_photo_job_id_job"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(
            ["photo_id"], ["photo.id"], name=op.f("fk_job_photo_photo_id_photo"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_job_photo")),
        sa.UniqueConstraint("job_id", "photo_id", name=op.f("uq_job_photo_job_id")),
    )
    with op.batch_alter_table("job_photo", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_job_photo_job_id"), ["job_id"], unique=False)
        batch_op.create_index(batch_op.f("ix_job_photo_photo_id"), ["photo_id"], unique=False)

    op.create_table(
        "job_size",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("size_id", sa.Integer(), nullable=True),
        sa.Column("size", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["job_id"], ["job.id"], name=op.f("fk_job_size_job_id_job"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_job_size")),
    )
    with op.batch_alter_table("job_size", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_job_size_job_id"), ["job_id"], unique=False)

    op.create_table(
        "placement",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("job_photo_id", sa.Integer(), nullable=False),
        sa.Column("job_size_id", sa.Integer(), nullable=False),
        sa.Column("placement", sa.Text(), nullable=False),
        sa.Column("state", sa.String(length=200), nullable=False),
        sa.Column("step", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["job_id"], ["job.id"], name=op.f("fk_placement_job_id_job"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(
            ["job_photo_id"],
            ["job_photo.id"],
            name=op.f("fk_placement_job_photo_id_job_photo"),
            ondelete="CASCADE",
        ),
        sa.ForeignKeyConstraint(
            ["job_size_id"],
            ["job_size.id"],
            name=op.f("fk_placement_job_size_id_job_size"),
            ondelete="CASCADE",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_placement")),
        sa.UniqueConstraint("job_photo_id", "job_size_id", name=op.f("uq_placement_job_photo_id")),
    )
    with op.batch_alter_table("placement", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_placement_job_id"), ["job_id"], unique=False)
        batch_op.create_index(
            batch_op.f("ix_placement_job_photo_id"), ["job_photo_id"], unique=False
        )
        batch_op.create_index(batch_op.f("ix_placement_job_size_id"), ["job_size_id"], unique=False)

    op.create_table(
        "delivery_file",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("delivery_id", sa.Integer(), nullable=False),
        sa.Column("placement_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=True),
        sa.Column("asked", sa.Text(), nullable=False),
        sa.Column("measured", sa.Text(), nullable=True),
        sa.Column("state", sa.String(length=200), nullable=False),
        sa.Column("reason", sa.String(), nullable=True),
        sa.ForeignKeyConstraint(
            ["delivery_id"],
            ["delivery.id"],
            name=op.f("fk_delivery_file_delivery_id_delivery"),
            ondelete="CASCADE",
        ),
        sa.ForeignKeyConstraint(
            ["placement_id"],
            ["placement.id"],
            name=op.f("fk_delivery_file_placement_id_placement"),
            ondelete="CASCADE",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_delivery_file")),
    )
    with op.batch_alter_table("delivery_file", schema=None) as batch_op:
        batch_op.create_index(
            batch_op.f("ix_delivery_file_delivery_id"), ["delivery_id"], unique=False
        )
        batch_op.create_index(
            batch_op.f("ix_delivery_file_placement_id"), ["placement_id"], unique=False
        )

    op.create_table(
        "placement_step",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("placement_id", sa.Integer(), nullable=False),
        sa.Column("step", sa.Integer(), nullable=False),
        sa.Column("what", sa.String(length=200), nullable=False),
        sa.Column("placement", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["placement_id"],
            ["placement.id"],
            name=op.f("fk_placement_step_placement_id_placement"),
            ondelete="CASCADE",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_placement_step")),
        sa.UniqueConstraint("placement_id", "step", name=op.f("uq_placement_step_placement_id")),
    )
    with op.batch_alter_table("placement_step", schema=None) as batch_op:
        batch_op.create_index(
            batch_op.f("ix_placement_step_placement_id"), ["placement_id"], unique=False
        )


def downgrade() -> None:
    with op.batch_alter_table("placement_step", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_placement_step_placement_id"))

    op.drop_table("placement_step")
    with op.batch_alter_table("delivery_file", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_delivery_file_placement_id"))
        batch_op.drop_index(batch_op.f("ix_delivery_file_delivery_id"))

    op.drop_table("delivery_file")
    with op.batch_alter_table("placement", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_placement_job_size_id"))
        batch_op.drop_index(batch_op.f("ix_placement_job_photo_id"))
        batch_op.drop_index(batch_op.f("ix_placement_job_id"))

    op.drop_table("placement")
    with op.batch_alter_table("job_size", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_job_size_job_id"))

    op.drop_table("job_size")
    with op.batch_alter_table("job_photo", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_job_photo_photo_id"))
        batch_op.drop_index(batch_op.f("ix_job_photo_job_id"))

    op.drop_table("job_photo")
    with op.batch_alter_table("delivery", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_delivery_job_id"))

    op.drop_table("delivery")
    op.drop_table("size")
    op.drop_table("photo")
    op.drop_table("job")
