"""read_in: what comes first in the dates of a table"""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    op.add_column("read_in", sa.Column("dates", sa.String(), nullable=True))


def downgrade() -> None:
    with op.batch_alter_table("read_in") as table:
        table.drop_column("dates")
