"""what was told of a job: the public job document without looks and drives

Revision ID: 0004
Revises: 0003
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("jobs", schema=None) as batch:
        batch.add_column(sa.Column("told", sa.Text(), nullable=False, server_default=""))


def downgrade() -> None:
    with op.batch_alter_table("jobs", schema=None) as batch:
        batch.drop_column("told")
