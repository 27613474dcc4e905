"""captures that are still arriving, and the same recording once in a job

Revision ID: 0005
Revises: 0004

A recording that a job holds twice already stays twice; its later copies lose the hash by which it is known again.
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("captures", schema=None) as batch:
        batch.add_column(sa.Column("arrived_at", sa.String(length=32), nullable=True))
    connection = op.get_bind()
    connection.execute(sa.text("UPDATE captures SET arrived_at = created_at"))
    connection.execute(
        sa.text(
            "UPDATE captures SET data_sha256 = '' WHERE id NOT IN "
            "(SELECT MIN(id) FROM captures GROUP BY job_id, data_sha256)"
        )
    )
    op.create_index(
        "ux_captures_recording",
        "captures",
        ["job_id", "data_sha256"],
        unique=True,
        sqlite_where=sa.text("data_sha256 <> ''"),
    )


def downgrade() -> None:
    op.drop_index("ux_captures_recording", "captures")
    with op.batch_alter_table("captures", schema=None) as batch:
        batch.drop_column("arrived_at")
