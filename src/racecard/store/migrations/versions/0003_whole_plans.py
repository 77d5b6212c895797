"""whole plans: design, fingerprint, borders and locks, baseline, amendments"""

import json

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"

_ROLES = "'control', 'carrier', 'positive', 'negative', 'standard', 'candidate'"
_SIDES = ("top", "right", "bottom", "left")


def upgrade() -> None:
    with op.batch_alter_table("trial") as batch:
        batch.add_column(sa.Column("design", sa.String(), nullable=False, server_default="{}"))
        batch.add_column(sa.Column("fingerprint", sa.String(), nullable=False, server_default=""))
        batch.drop_constraint("ck_trial_units", type_="check")
        batch.drop_constraint("ck_trial_blocks", type_="check")
        batch.create_check_constraint("ck_trial_units", "units BETWEEN 1 AND 5000")
        batch.create_check_constraint("ck_trial_blocks", "blocks BETWEEN 1 AND 500")
    connection = op.get_bind()
    for side in _SIDES:
        sides = ["door" if s == side else "" for s in _SIDES]
        connection.execute(
            sa.text("UPDATE trial SET design = :design WHERE door = :side"),
            {"design": json.dumps({"sides": sides}), "side": side},
        )
    with op.batch_alter_table("trial") as batch:
        batch.drop_column("door")
    with op.batch_alter_table("treatment") as batch:
        batch.add_column(sa.Column("traits", sa.String(), nullable=False, server_default="{}"))
        batch.drop_constraint("ck_treatment_role", type_="check")
        batch.create_check_constraint("ck_treatment_role", f"role IN ({_ROLES})")
    with op.batch_alter_table("unit") as batch:
        for name in ("border", "locked"):
            batch.add_column(sa.Column(name, sa.Boolean(), nullable=False, server_default=sa.false()))
    op.create_table(
        "baseline",
        sa.Column("unit_id", sa.String(length=32), nullable=False),
        sa.Column("trait", sa.String(), nullable=False),
        sa.Column("value", sa.Double(), nullable=False),
        sa.CheckConstraint("value >= 0", name="ck_baseline_value"),
        sa.ForeignKeyConstraint(["unit_id"], ["unit.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("unit_id", "trait"),
    )
    op.create_table(
        "amendment",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("trial_id", sa.String(length=32), nullable=False),
        *(sa.Column(name, sa.String(), nullable=False) for name in ("who", "field", "before", "after", "reason")),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.CheckConstraint("length(reason) > 0", name="ck_amendment_reason"),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_amendment_trial_id", "amendment", ["trial_id"])
    for verb in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER amendment_no_{verb.lower()} BEFORE {verb} ON amendment "
            "BEGIN SELECT RAISE(ABORT, 'amendments are only ever added to'); END"
        )


def downgrade() -> None:
    op.drop_table("amendment")
    op.drop_table("baseline")
    with op.batch_alter_table("unit") as batch:
        batch.drop_column("locked")
        batch.drop_column("border")
    with op.batch_alter_table("treatment") as batch:
        batch.drop_column("traits")
    with op.batch_alter_table("trial") as batch:
        batch.add_column(sa.Column("door", sa.String(), nullable=False, server_default="left"))
        batch.drop_column("fingerprint")
        batch.drop_column("design")
