"""finish: what a grower writes beside a verdict, and dry runs that were kept"""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.create_table(
        "finish_word",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.String(length=32), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("body", sa.String(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.CheckConstraint("kind IN ('worth', 'conclusion')", name="ck_finish_word_kind"),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_finish_word_trial_id", "finish_word", ["trial_id"])
    for what in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER finish_word_no_{what.lower()} BEFORE {what} ON finish_word "
            "BEGIN SELECT RAISE(ABORT, 'what was written beside a verdict is never altered'); END"
        )
    op.create_table(
        "dry_run",
        sa.Column("id", sa.String(length=32), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("body", sa.String(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("invented", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )


def downgrade() -> None:
    op.drop_table("dry_run")
    op.drop_table("finish_word")
