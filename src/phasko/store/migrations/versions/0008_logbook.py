"""The logbook: how jobs were closed and who has them, photos, heads of results for lists, a search over everything,
and what the workshop has learnt from its closed jobs

Revision ID: 0008
Revises: 0007

Triggers mark a job for the index whenever anything of it changes, whoever writes it; the index itself is brought up to
date before it is asked.
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

_STALE = "UPDATE jobs SET indexed = 0 WHERE id = {job}"
_PARTS = ("looks", "road_tests", "captures", "results", "photos")


def upgrade() -> None:
    with op.batch_alter_table("jobs") as jobs:
        jobs.add_column(sa.Column("closed_at", sa.String(length=32), nullable=True))
        jobs.add_column(sa.Column("cause", sa.String(length=16), nullable=True))
        jobs.add_column(sa.Column("holder", sa.String(length=60), nullable=False, server_default=""))
        jobs.add_column(sa.Column("waiting_for", sa.String(length=200), nullable=False, server_default=""))
        jobs.add_column(sa.Column("repaired_at", sa.String(length=32), nullable=True))
        jobs.add_column(sa.Column("sample", sa.Boolean(), nullable=False, server_default="0"))
        jobs.add_column(sa.Column("indexed", sa.Boolean(), nullable=False, server_default="0"))
    # Only sample jobs had a car of the simulated instruments' own.
    op.execute("UPDATE jobs SET sample = 1 WHERE simulated_car <> ''")
    with op.batch_alter_table("results") as results:
        results.add_column(sa.Column("head", sa.Text(), nullable=False, server_default=""))
    op.create_index("ix_results_newest", "results", ["job_id", "id"])
    photos = (
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("job_id", sa.Integer(), sa.ForeignKey("jobs.id"), nullable=False),
        sa.Column("station", sa.String(length=20), nullable=False),
        sa.Column("caption", sa.String(length=300), nullable=False, server_default=""),
        sa.Column("name", sa.String(length=200), nullable=False),
        sa.Column("sha256", sa.String(length=64), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.Column("created_at", sa.String(length=32), nullable=False),
        sa.Column("removed_at", sa.String(length=32), nullable=True),
    )
    op.create_table("photos", *photos)
    op.create_index("ix_photos_job", "photos", ["job_id", "removed_at"])
    settings = (
        sa.Column("name", sa.String(length=40), primary_key=True),
        sa.Column("document", sa.Text(), nullable=False),
    )
    op.create_table("workshop_settings", *settings)
    op.execute(
        "CREATE VIRTUAL TABLE job_words USING fts5(vehicle, engine, complaint, codes, finding, words, "
        "tokenize = 'unicode61 remove_diacritics 2', prefix = '2 3')"
    )
    for table in _PARTS:
        for verb, row in (("INSERT", "NEW"), ("UPDATE", "NEW"), ("DELETE", "OLD")):
            _trigger(f"{table}_{verb.lower()}_words", f"{verb} ON {table}", _STALE.format(job=f"{row}.job_id"))
    for_job = "UPDATE OF complaint, codes, told, vehicle_id, engine_version_id, holder, waiting_for ON jobs"
    _trigger("jobs_update_words", for_job, _STALE.format(job="NEW.id"))
    of_vehicle = "UPDATE jobs SET indexed = 0 WHERE vehicle_id = NEW.id"
    _trigger("vehicles_update_words", "UPDATE ON vehicles", of_vehicle)
    _trigger("jobs_delete_words", "DELETE ON jobs", "DELETE FROM job_words WHERE rowid = OLD.id")


def _trigger(name: str, when: str, then: str) -> None:
    op.execute(f"CREATE TRIGGER {name} AFTER {when} BEGIN {then}; END")


def downgrade() -> None:
    for table in _PARTS:
        for verb in ("insert", "update", "delete"):
            op.execute(f"DROP TRIGGER IF EXISTS {table}_{verb}_words")
    for name in ("jobs_update_words", "vehicles_update_words", "jobs_delete_words"):
        op.execute(f"DROP TRIGGER IF EXISTS {name}")
    op.execute("DROP TABLE job_words")
    op.drop_table("workshop_settings")
    op.drop_table("photos")
    op.drop_index("ix_results_newest", "results")
    with op.batch_alter_table("results") as results:
        results.drop_column("head")
    with op.batch_alter_table("jobs") as jobs:
        for name in ("closed_at", "cause", "holder", "waiting_for", "repaired_at", "sample", "indexed"):
            jobs.drop_column(name)
