"""roles and revisions: what a device may do, and which plan a change was made to"""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.add_column("device", sa.Column("role", sa.String(), nullable=False, server_default="helper"))
    op.add_column("trial", sa.Column("revision", sa.Integer(), nullable=False, server_default="1"))


def downgrade() -> None:
    op.drop_column("device", "role")
    op.drop_column("trial", "revision")
