"""people with their roles, the log of who did what, versions of what is changed, jobs that were taken out, and files
that were cut off

Revision ID: 0006
Revises: 0005

The log is append-only: the file itself refuses to change or remove one of its lines.
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

_SEALED = """
CREATE TRIGGER log_entries_no_{verb} BEFORE {verb} ON log_entries
BEGIN SELECT RAISE(ABORT, 'the log of who did what is append-only'); END
"""


def upgrade() -> None:
    people = (
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(length=60, collation="NOCASE"), nullable=False, unique=True),
        sa.Column("role", sa.String(length=16), nullable=False),
        sa.Column("passphrase_hash", sa.String(length=200), nullable=False),
        sa.Column("created_at", sa.String(length=32), nullable=False),
        sa.Column("changed_at", sa.String(length=32), nullable=False),
    )
    op.create_table("people", *people)
    entries = (
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("at", sa.String(length=32), nullable=False),
        sa.Column("who", sa.String(length=60), nullable=False),
        sa.Column("did", sa.String(length=40), nullable=False),
        sa.Column("what", sa.String(length=200), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=True),
        sa.Column("capture_id", sa.Integer(), nullable=True),
        sa.Column("fields", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=True),
    )
    op.create_table("log_entries", *entries)
    op.create_index("ix_log_job", "log_entries", ["job_id", "version"])
    op.create_index("ix_log_capture", "log_entries", ["capture_id", "version"])
    for verb in ("UPDATE", "DELETE"):
        op.execute(_SEALED.format(verb=verb))
    with op.batch_alter_table("jobs", schema=None) as batch:
        batch.add_column(sa.Column("version", sa.Integer(), nullable=False, server_default="1"))
        batch.add_column(sa.Column("removed_at", sa.String(length=32), nullable=True))
    with op.batch_alter_table("captures", schema=None) as batch:
        batch.add_column(sa.Column("version", sa.Integer(), nullable=False, server_default="1"))
        batch.add_column(sa.Column("cut_off", sa.String(length=300), nullable=True))


def downgrade() -> None:
    with op.batch_alter_table("captures", schema=None) as batch:
        batch.drop_column("cut_off")
        batch.drop_column("version")
    with op.batch_alter_table("jobs", schema=None) as batch:
        batch.drop_column("removed_at")
        batch.drop_column("version")
    op.drop_table("log_entries")
    op.drop_table("people")
