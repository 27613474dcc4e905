"""what was looked at and listened to, road tests, captures kept as known good

Revision ID: 0003
Revises: 0002
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "looks",
        *(
            sa.Column("id", sa.Integer(), nullable=False),
            sa.Column("job_id", sa.Integer(), nullable=False),
            sa.Column("document", sa.Text(), nullable=False),
            sa.Column("created_at", sa.String(length=32), nullable=False),
            sa.Column("removed_at", sa.String(length=32), nullable=True),
            sa.ForeignKeyConstraint(["job_id"], ["jobs.id"]),
            sa.PrimaryKeyConstraint("id"),
        ),
    )
    op.create_index("ix_looks_job", "looks", ["job_id", "removed_at"])
    op.create_table(
        "road_tests",
        *(
            sa.Column("id", sa.Integer(), nullable=False),
            sa.Column("job_id", sa.Integer(), nullable=False),
            sa.Column("name", sa.String(length=200), nullable=False),
            sa.Column("sha256", sa.String(length=64), nullable=False),
            sa.Column("data", sa.LargeBinary(), nullable=True),
            sa.Column("created_at", sa.String(length=32), nullable=False),
            sa.Column("removed_at", sa.String(length=32), nullable=True),
            sa.ForeignKeyConstraint(["job_id"], ["jobs.id"]),
            sa.PrimaryKeyConstraint("id"),
        ),
    )
    op.create_index("ix_road_tests_job", "road_tests", ["job_id", "removed_at"])
    with op.batch_alter_table("captures", schema=None) as batch:
        batch.add_column(sa.Column("known_good_at", sa.String(length=32), nullable=True))


def downgrade() -> None:
    with op.batch_alter_table("captures", schema=None) as batch:
        batch.drop_column("known_good_at")
    op.drop_table("road_tests")
    op.drop_table("looks")
