"""form book: a line of each trial, kept until anything of the trial is written; what a trial repeats"""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"

_PARTS = ("treatment", "unit", "observation", "entry", "amendment", "setting")


def upgrade() -> None:
    op.add_column("trial", sa.Column("repeats", sa.String(length=32), nullable=True))
    op.create_table(
        "form_line",
        sa.Column("trial_id", sa.String(length=32), nullable=False),
        sa.Column("day", sa.Integer(), nullable=True),
        sa.Column("line", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("trial_id"),
    )
    for table in _PARTS:
        _trigger(f"{table}_new_form", "INSERT", table, "trial_id")
    for table in ("treatment", "unit"):
        _trigger(f"{table}_changed_form", "UPDATE", table, "trial_id")
    _trigger("trial_changed_form", "UPDATE", "trial", "id")


def downgrade() -> None:
    for table in _PARTS:
        op.execute(f"DROP TRIGGER {table}_new_form")
    for table in ("treatment", "unit", "trial"):
        op.execute(f"DROP TRIGGER {table}_changed_form")
    op.drop_table("form_line")
    op.drop_column("trial", "repeats")


def _trigger(name: str, verb: str, table: str, key: str) -> None:
    op.execute(
        f"CREATE TRIGGER {name} AFTER {verb} ON {table} "
        f"BEGIN DELETE FROM form_line WHERE trial_id = NEW.{key}; END"
    )
