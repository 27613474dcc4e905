"""Programs that may come in with a token of their own; results know what they rest on beside the version that made
them, and whether they stand or wait to be taken over

Revision ID: 0011
Revises: 0010
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    columns: tuple[sa.schema.SchemaItem, ...] = (
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(length=60, collation="NOCASE"), nullable=False, unique=True),
        sa.Column("role", sa.String(length=16), nullable=False),
        sa.Column("token_sha256", sa.String(length=64), nullable=False, unique=True),
        sa.Column("ends_at", sa.String(length=32), nullable=True),
        sa.Column("created_at", sa.String(length=32), nullable=False),
    )
    op.create_table("access_tokens", *columns)
    with op.batch_alter_table("results") as results:
        results.add_column(sa.Column("rests", sa.String(length=64), nullable=False, server_default=""))
        results.add_column(sa.Column("software", sa.String(length=40), nullable=False, server_default=""))
        results.add_column(sa.Column("numbers", sa.String(length=64), nullable=False, server_default=""))
        results.add_column(sa.Column("standing", sa.Boolean(), nullable=False, server_default="1"))
    op.create_index("ix_results_rests", "results", ["job_id", "rests"])


def downgrade() -> None:
    op.drop_index("ix_results_rests", "results")
    with op.batch_alter_table("results") as results:
        for name in ("rests", "software", "numbers", "standing"):
            results.drop_column(name)
    op.drop_table("access_tokens")
