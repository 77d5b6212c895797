"""entry: marks traced on a photo are a kind of their own"""

from alembic import op

revision = "0012"
down_revision = "0011"

_KINDS = "'event', 'measure', 'note', 'photo', 'second', 'void'"


def upgrade() -> None:
    _rebuild(f"{_KINDS}, 'traced'")


def downgrade() -> None:
    op.execute("DROP TRIGGER IF EXISTS entry_no_delete")
    op.execute("DELETE FROM entry WHERE kind = 'traced'")
    _rebuild(_KINDS)


def _rebuild(kinds: str) -> None:
    """The table anew with these kinds: the rows of a log may not be touched, so they are copied."""
    op.execute("PRAGMA defer_foreign_keys = ON")
    with op.batch_alter_table("entry", recreate="always") as batch:
        batch.drop_constraint("ck_entry_kind", type_="check")
        batch.create_check_constraint("ck_entry_kind", f"kind IN ({kinds})")
    for verb in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER entry_no_{verb.lower()} BEFORE {verb} ON entry "
            "BEGIN SELECT RAISE(ABORT, 'a entry is only ever added to'); END"
        )
    op.execute(
        "CREATE TRIGGER entry_new_summary AFTER INSERT ON entry "
        "BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END"
    )
