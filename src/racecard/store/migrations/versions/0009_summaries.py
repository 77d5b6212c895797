"""summaries: what lists show of each trial, kept until anything of the trial is written"""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"

_PARTS = ("treatment", "unit", "observation", "entry", "amendment", "setting", "mark", "change")


def upgrade() -> None:
    op.create_table(
        "summary",
        sa.Column("trial_id", sa.String(length=32), nullable=False),
        sa.Column("day", sa.Integer(), nullable=True),
        sa.Column("line", sa.String(), nullable=False),
        sa.Column("tasks", sa.String(), nullable=False),
        sa.Column("proposal", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("trial_id"),
    )
    for table in _PARTS:
        op.execute(
            f"CREATE TRIGGER {table}_new_summary AFTER INSERT ON {table} "
            "BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END"
        )
    for table in ("treatment", "unit"):
        op.execute(
            f"CREATE TRIGGER {table}_changed_summary AFTER UPDATE ON {table} "
            "BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END"
        )
    op.execute(
        "CREATE TRIGGER trial_changed_summary AFTER UPDATE ON trial "
        "BEGIN DELETE FROM summary WHERE trial_id = NEW.id; END"
    )
    op.create_index("ix_trial_created_at", "trial", ["created_at"])


def downgrade() -> None:
    for table in _PARTS:
        op.execute(f"DROP TRIGGER {table}_new_summary")
    for table in ("treatment", "unit", "trial"):
        op.execute(f"DROP TRIGGER {table}_changed_summary")
    op.drop_index("ix_trial_created_at", "trial")
    op.drop_table("summary")
