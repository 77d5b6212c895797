"""imported tables: how many gardens joined and sent, whether the table is invented, what it holds"""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"


def upgrade() -> None:
    with op.batch_alter_table("read_in") as table:
        table.add_column(sa.Column("turnout", sa.String(), nullable=True))
        table.add_column(
            sa.Column("invented", sa.Boolean(), nullable=False, server_default=sa.false())
        )
        table.add_column(sa.Column("kind", sa.String(), nullable=True))


def downgrade() -> None:
    with op.batch_alter_table("read_in") as table:
        table.drop_column("kind")
        table.drop_column("invented")
        table.drop_column("turnout")
