"""gardens invited by a link: the pack they were given, who joined, what each reported"""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"


def upgrade() -> None:
    op.create_table(
        "garden_invite",
        sa.Column("id", sa.String(length=32), nullable=False),
        sa.Column("trial_id", sa.String(length=32), nullable=False),
        sa.Column("token", sa.String(length=64), nullable=False),
        sa.Column("pack", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("closed_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("token"),
    )
    op.create_index("ix_garden_invite_trial_id", "garden_invite", ["trial_id"])
    op.create_table(
        "garden",
        sa.Column("id", sa.String(length=32), nullable=False),
        sa.Column("invite_id", sa.String(length=32), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("key_hash", sa.String(length=64), nullable=False),
        sa.Column("joined_at", sa.DateTime(), nullable=False),
        sa.Column("gone_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["invite_id"], ["garden_invite.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("invite_id", "number"),
    )
    op.create_table(
        "garden_report",
        sa.Column("n", sa.Integer(), nullable=False),
        sa.Column("garden_id", sa.String(length=32), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("body", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["garden_id"], ["garden.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("n"),
    )
    op.create_index("ix_garden_report_garden_id", "garden_report", ["garden_id"])


def downgrade() -> None:
    op.drop_table("garden_report")
    op.drop_table("garden")
    op.drop_table("garden_invite")
