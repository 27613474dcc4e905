"""Which car the simulated instruments find before them, with each job."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("jobs") as jobs:
        jobs.add_column(sa.Column("simulated_car", sa.Text(), nullable=False, server_default=""))
