"""prepare: register, choices, recipes, marks of the clock, what was really set"""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"

_KEPT = (("mark", ("UPDATE",)), ("setting", ("UPDATE", "DELETE")))
"""A draft thrown away takes its marks with it; nothing else is ever altered or deleted."""


def _text(*names: str) -> list[sa.Column[str]]:
    return [sa.Column(name, sa.String(), nullable=False) for name in names]


def _trial() -> tuple[sa.Column[str], sa.ForeignKeyConstraint]:
    return (
        sa.Column("trial_id", sa.String(length=32), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"], ondelete="CASCADE"),
    )


def upgrade() -> None:
    op.create_table(
        "material",
        sa.Column("id", sa.String(length=32), nullable=False),
        *_text("kind", "body"),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("changed_at", sa.DateTime(), nullable=False),
        sa.Column("retired_at", sa.DateTime(), nullable=True),
        sa.CheckConstraint("kind IN ('plant', 'agent')", name="ck_material_kind"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "choice",
        sa.Column("key", sa.String(length=80), nullable=False),
        *_text("value"),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("key"),
    )
    op.create_table(
        "recipe",
        sa.Column("id", sa.String(length=32), nullable=False),
        *_trial(),
        sa.Column("at", sa.DateTime(), nullable=False),
        *_text("who", "arm", "key", "fields", "choices", "card", "override"),
        sa.Column("taken_off_at", sa.DateTime(), nullable=True),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "mark",
        sa.Column("id", sa.String(length=64), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        *_trial(),
        *_text("step", "what", "who"),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.CheckConstraint("what IN ('start', 'stop', 'void')", name="ck_mark_what"),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("seq"),
    )
    op.create_table(
        "setting",
        sa.Column("id", sa.Integer(), nullable=False),
        *_trial(),
        sa.Column("unit_id", sa.String(length=32), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("is_set", sa.Boolean(), nullable=False),
        sa.Column("set_at", sa.DateTime(), nullable=True),
        *_text("who", "why", "lot", "size"),
        sa.CheckConstraint("is_set OR length(why) > 0", name="ck_setting_why"),
        sa.ForeignKeyConstraint(["unit_id"], ["unit.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    for table in ("recipe", "mark", "setting"):
        op.create_index(f"ix_{table}_trial_id", table, ["trial_id"])
    for table, verbs in _KEPT:
        for verb in verbs:
            op.execute(
                f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
                f"BEGIN SELECT RAISE(ABORT, 'a {table} is only ever added to'); END"
            )


def downgrade() -> None:
    for table in ("setting", "mark", "recipe", "choice", "material"):
        op.drop_table(table)
