"""first tables"""

import sqlalchemy as sa
from alembic import op

revision = '0001'
down_revision = None


def upgrade() -> None:
    op.create_table('trial',
    sa.Column('id', sa.String(length=32), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('created_by', sa.String(), nullable=False),
    sa.Column('status', sa.String(), nullable=False),
    sa.Column('started_at', sa.DateTime(), nullable=True),
    sa.Column('unsealed_at', sa.DateTime(), nullable=True),
    sa.Column('seed', sa.Integer(), nullable=True),
    sa.Column('invented', sa.Boolean(), nullable=False),
    sa.Column('question', sa.String(), nullable=False),
    sa.Column('material', sa.String(), nullable=False),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('units', sa.Integer(), nullable=False),
    sa.Column('per_container', sa.Integer(), nullable=False),
    sa.Column('blocks', sa.Integer(), nullable=False),
    sa.Column('columns', sa.Integer(), nullable=False),
    sa.Column('endpoint', sa.Integer(), nullable=False),
    sa.Column('threshold_mm', sa.Double(), nullable=False),
    sa.Column('length_days', sa.Integer(), nullable=False),
    sa.Column('look_every_days', sa.Integer(), nullable=False),
    sa.Column('gap_points', sa.Double(), nullable=False),
    sa.Column('expected_percent', sa.Double(), nullable=False),
    sa.Column('blind', sa.Boolean(), nullable=False),
    sa.Column('count_singly', sa.Boolean(), nullable=False),
    sa.Column('time_zone', sa.String(), nullable=False),
    sa.Column('day0', sa.String(), nullable=False),
    sa.Column('door', sa.String(), nullable=False),
    sa.CheckConstraint("(status = 'started') = (started_at IS NOT NULL)", name='ck_trial_started'),
    sa.CheckConstraint("status IN ('draft', 'started')", name='ck_trial_status'),
    sa.CheckConstraint('blocks BETWEEN 1 AND 50', name='ck_trial_blocks'),
    sa.CheckConstraint('length_days >= 1 AND look_every_days >= 1', name='ck_trial_days'),
    sa.CheckConstraint('per_container BETWEEN 1 AND 200', name='ck_trial_per_container'),
    sa.CheckConstraint('units BETWEEN 1 AND 500', name='ck_trial_units'),
    sa.PrimaryKeyConstraint('id')
    )
    op.create_table('change',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('trial_id', sa.String(length=32), nullable=False),
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.Column('who', sa.String(), nullable=False),
    sa.Column('what', sa.String(), nullable=False),
    sa.Column('detail', sa.String(), nullable=False),
    sa.ForeignKeyConstraint(['trial_id'], ['trial.id'], ondelete='CASCADE'),
    sa.PrimaryKeyConstraint('id')
    )
    with op.batch_alter_table('change', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_change_trial_id'), ['trial_id'], unique=False)

    op.create_table('treatment',
    sa.Column('id', sa.String(length=32), nullable=False),
    sa.Column('trial_id', sa.String(length=32), nullable=False),
    sa.Column('position', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('role', sa.String(), nullable=False),
    sa.Column('detail', sa.String(), nullable=False),
    sa.Column('agent', sa.String(), nullable=False),
    sa.Column('carrier', sa.String(), nullable=False),
    sa.Column('silk', sa.String(), nullable=False),
    sa.CheckConstraint("role IN ('control', 'carrier', 'standard', 'candidate')", name='ck_treatment_role'),
    sa.ForeignKeyConstraint(['trial_id'], ['trial.id'], ondelete='CASCADE'),
    sa.PrimaryKeyConstraint('id'),
    sa.UniqueConstraint('trial_id', 'position', name='uq_treatment_position')
    )
    with op.batch_alter_table('treatment', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_treatment_trial_id'), ['trial_id'], unique=False)
        batch_op.create_index('uq_treatment_one_control', ['trial_id'], unique=True, sqlite_where=sa.text("role = 'control'"))

    op.create_table('unit',
    sa.Column('id', sa.String(length=32), nullable=False),
    sa.Column('trial_id', sa.String(length=32), nullable=False),
    sa.Column('tray', sa.Integer(), nullable=False),
    sa.Column('row', sa.Integer(), nullable=False),
    sa.Column('col', sa.Integer(), nullable=False),
    sa.Column('block', sa.Integer(), nullable=False),
    sa.Column('treatment_id', sa.String(length=32), nullable=True),
    sa.ForeignKeyConstraint(['treatment_id'], ['treatment.id'], ),
    sa.ForeignKeyConstraint(['trial_id'], ['trial.id'], ondelete='CASCADE'),
    sa.PrimaryKeyConstraint('id'),
    sa.UniqueConstraint('trial_id', 'tray', 'row', 'col', name='uq_unit_place')
    )
    with op.batch_alter_table('unit', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_unit_trial_id'), ['trial_id'], unique=False)

    op.create_table('observation',
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('seq', sa.Integer(), nullable=False),
    sa.Column('trial_id', sa.String(length=32), nullable=False),
    sa.Column('unit_id', sa.String(length=32), nullable=False),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('day', sa.Integer(), nullable=False),
    sa.Column('seen_at', sa.DateTime(), nullable=False),
    sa.Column('recorded_at', sa.DateTime(), nullable=False),
    sa.Column('who', sa.String(), nullable=False),
    sa.Column('corrects', sa.String(length=64), nullable=True),
    sa.Column('stage', sa.Integer(), nullable=True),
    sa.Column('wilted', sa.Boolean(), nullable=False),
    sa.Column('shoot', sa.Boolean(), nullable=False),
    sa.Column('loss', sa.String(), nullable=True),
    sa.Column('removed', sa.Integer(), nullable=False),
    sa.Column('struck', sa.Integer(), nullable=True),
    sa.Column('lost', sa.Integer(), nullable=True),
    sa.Column('lost_struck', sa.Integer(), nullable=True),
    sa.Column('score', sa.Integer(), nullable=True),
    sa.CheckConstraint("kind != 'void' OR corrects IS NOT NULL", name='ck_observation_void'),
    sa.CheckConstraint("kind IN ('look', 'count', 'score', 'void')", name='ck_observation_kind'),
    sa.CheckConstraint('day >= 0', name='ck_observation_day'),
    sa.CheckConstraint('score IS NULL OR score BETWEEN 0 AND 5', name='ck_observation_score'),
    sa.ForeignKeyConstraint(['corrects'], ['observation.id'], ),
    sa.ForeignKeyConstraint(['trial_id'], ['trial.id'], ondelete='CASCADE'),
    sa.ForeignKeyConstraint(['unit_id'], ['unit.id'], ),
    sa.PrimaryKeyConstraint('id'),
    sa.UniqueConstraint('seq')
    )
    with op.batch_alter_table('observation', schema=None) as batch_op:
        batch_op.create_index('ix_observation_trial_day', ['trial_id', 'day'], unique=False)

    for verb in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER observation_no_{verb.lower()} BEFORE {verb} ON observation "
            "BEGIN SELECT RAISE(ABORT, 'observations are only ever added to'); END"
        )


def downgrade() -> None:
    with op.batch_alter_table('observation', schema=None) as batch_op:
        batch_op.drop_index('ix_observation_trial_day')

    op.drop_table('observation')
    with op.batch_alter_table('unit', schema=None) as batch_op:
        batch_op.drop_index(batch_op.f('ix_unit_trial_id'))

    op.drop_table('unit')
    with op.batch_alter_table('treatment', schema=None) as batch_op:
        batch_op.drop_index('uq_treatment_one_control', sqlite_where=sa.text("role = 'control'"))
        batch_op.drop_index(batch_op.f('ix_treatment_trial_id'))

    op.drop_table('treatment')
    with op.batch_alter_table('change', schema=None) as batch_op:
        batch_op.drop_index(batch_op.f('ix_change_trial_id'))

    op.drop_table('change')
    op.drop_table('trial')
