"""chain: each row of the log linked to the one before by its hash"""

import sqlalchemy as sa
from alembic import op

from racecard.store.chain import link_all

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.create_table(
        "chain",
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("ref", sa.String(length=64), nullable=False),
        sa.Column("columns", sa.String(), nullable=False),
        sa.Column("hash", sa.String(length=64), nullable=False),
        sa.PrimaryKeyConstraint("seq"),
    )
    for verb in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER chain_no_{verb.lower()} BEFORE {verb} ON chain "
            "BEGIN SELECT RAISE(ABORT, 'a chain is only ever added to'); END"
        )
    link_all(op.get_bind())


def downgrade() -> None:
    op.drop_table("chain")
