"""training: a scorer's sittings with drawn roots"""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"


def upgrade() -> None:
    op.create_table(
        "training",
        sa.Column("id", sa.String(length=32), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("marks", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )


def downgrade() -> None:
    op.drop_table("training")
