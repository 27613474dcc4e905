"""Practice: attempts at cars with a hidden fault and at lessons, each with a job of its own in a file apart from the
workshop's

Revision ID: 0009
Revises: 0008
"""

from __future__ import annotations

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    columns: tuple[sa.Column[Any], ...] = (
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("job_id", sa.Integer(), sa.ForeignKey("jobs.id"), nullable=False, unique=True),
        sa.Column("kind", sa.String(length=12), nullable=False),
        sa.Column("person", sa.String(length=60), nullable=False),
        sa.Column("class_name", sa.String(length=60), nullable=False, server_default=""),
        sa.Column("number", sa.Integer(), nullable=False, server_default="0"),
        sa.Column("topic", sa.String(length=20), nullable=False),
        sa.Column("lesson", sa.String(length=30), nullable=False, server_default=""),
        sa.Column("car", sa.Text(), nullable=False),
        sa.Column("steps", sa.Text(), nullable=False, server_default="[]"),
        sa.Column("outcome", sa.Text(), nullable=False, server_default=""),
        sa.Column("points", sa.Double(), nullable=True),
        sa.Column("begun_at", sa.String(length=32), nullable=False),
        sa.Column("ended_at", sa.String(length=32), nullable=True),
    )
    op.create_table("attempts", *columns)
    op.create_index("ix_attempts_person", "attempts", ["person", "ended_at"])
    op.create_index("ix_attempts_class", "attempts", ["class_name", "number"])


def downgrade() -> None:
    op.drop_index("ix_attempts_class", "attempts")
    op.drop_index("ix_attempts_person", "attempts")
    op.drop_table("attempts")
