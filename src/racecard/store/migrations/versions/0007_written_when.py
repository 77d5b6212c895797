"""written when: when a bench was last drawn and when the start was entered"""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    for name in ("drawn_at", "frozen_at"):
        op.add_column("trial", sa.Column(name, sa.DateTime(), nullable=True))
    for name, what in (("drawn_at", "draft saved"), ("frozen_at", "started")):
        op.execute(
            f"UPDATE trial SET {name} = (SELECT max(at) FROM change "
            f"WHERE change.trial_id = trial.id AND change.what = '{what}')"
        )


def downgrade() -> None:
    for name in ("drawn_at", "frozen_at"):
        op.drop_column("trial", name)
