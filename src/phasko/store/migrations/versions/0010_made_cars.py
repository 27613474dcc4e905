"""Practice cars that somebody made by hand for a class, by the number under which the class takes them

Revision ID: 0010
Revises: 0009
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    columns: tuple[sa.schema.SchemaItem, ...] = (
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("class_key", sa.String(length=60), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("made_by", sa.String(length=60), nullable=False),
        sa.Column("car", sa.Text(), nullable=False),
        sa.Column("made_at", sa.String(length=32), nullable=False),
        sa.UniqueConstraint("class_key", "number", name="uq_made_cars_class"),
    )
    op.create_table("made_cars", *columns)


def downgrade() -> None:
    op.drop_table("made_cars")
