"""samples before scale and offset, coarse levels, roles to confirm

Revision ID: 0002
Revises: 0001

Samples that are already stored were scaled on their way in. They stay as they are; their description now says so
(scale 1, offset 0, in the scaled unit). The original files are kept as they came.
"""

from __future__ import annotations

import hashlib
import json

import numpy as np
import sqlalchemy as sa
from alembic import op

from phasko.store.chunks import LEVEL_BLOCK, coarser_levels, unpack_file
from phasko.store.upgrading import at_row

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None

_OLD_BLOCK = 256


def upgrade() -> None:
    with op.batch_alter_table("captures", schema=None) as batch:
        batch.add_column(sa.Column("data_sha256", sa.String(length=64), nullable=False, server_default=""))
        batch.add_column(sa.Column("proposals", sa.Text(), nullable=False, server_default=""))
        batch.add_column(sa.Column("confirmed_at", sa.String(length=32), nullable=True))
    with op.batch_alter_table("sample_chunks", schema=None) as batch:
        batch.add_column(sa.Column("coarse_levels", sa.LargeBinary(), nullable=True))
    _captures_as_scaled()
    _levels_again()


def _captures_as_scaled() -> None:
    connection = op.get_bind()
    for row in connection.execute(sa.text("SELECT id, name, description, created_at FROM captures")).all():
        with at_row("the captures", row.id, row.name):
            description = json.loads(row.description)
            for channel in description["channels"]:
                channel["unit"] = channel.get("scaled_unit") or channel.get("unit", "V")
                channel |= {"scale": 1.0, "offset": 0.0}
                channel.pop("scaled_unit", None)
            packed = connection.execute(
                sa.text("SELECT data FROM capture_files WHERE capture_id = :id AND role = 'data'"), {"id": row.id}
            ).scalar()
            digest = hashlib.sha256(unpack_file(packed)).hexdigest() if packed else ""
        connection.execute(
            sa.text("UPDATE captures SET description = :d, data_sha256 = :h, confirmed_at = :c WHERE id = :id"),
            {"d": json.dumps(description), "h": digest, "c": row.created_at, "id": row.id},
        )


def _levels_again() -> None:
    """Old levels had blocks of 256 samples; each is said again for its finer blocks, which is true of them all."""
    connection = op.get_bind()
    for row in connection.execute(sa.text("SELECT id, capture_id, levels FROM sample_chunks")).all():
        with at_row("the stored samples", row.id, f"of capture {row.capture_id}"):
            old = np.frombuffer(row.levels, dtype=np.float32).reshape(-1, 2)
            fine = np.repeat(old, _OLD_BLOCK // LEVEL_BLOCK, axis=0)
            coarse = coarser_levels(fine)
        connection.execute(
            sa.text("UPDATE sample_chunks SET levels = :f, coarse_levels = :g WHERE id = :id"),
            {"f": fine.astype(np.float32).tobytes(), "g": coarse.tobytes(), "id": row.id},
        )


def downgrade() -> None:
    with op.batch_alter_table("sample_chunks", schema=None) as batch:
        batch.drop_column("coarse_levels")
    with op.batch_alter_table("captures", schema=None) as batch:
        batch.drop_column("confirmed_at")
        batch.drop_column("proposals")
        batch.drop_column("data_sha256")
