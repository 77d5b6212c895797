"""form book: its lines say how alike containers and how spread measures were, so they are made anew"""

from alembic import op

revision = "0017"
down_revision = "0016"


def upgrade() -> None:
    op.execute("DELETE FROM form_line")


def downgrade() -> None:
    op.execute("DELETE FROM form_line")
