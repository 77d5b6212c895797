CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
CREATE TABLE change (
	id INTEGER NOT NULL, 
	trial_id VARCHAR(32) NOT NULL, 
	at DATETIME NOT NULL, 
	who VARCHAR NOT NULL, 
	what VARCHAR NOT NULL, 
	detail VARCHAR NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE
);
CREATE INDEX ix_change_trial_id ON change (trial_id);
CREATE TABLE observation (
	id VARCHAR(64) NOT NULL, 
	seq INTEGER NOT NULL, 
	trial_id VARCHAR(32) NOT NULL, 
	unit_id VARCHAR(32) NOT NULL, 
	kind VARCHAR NOT NULL, 
	day INTEGER NOT NULL, 
	seen_at DATETIME NOT NULL, 
	recorded_at DATETIME NOT NULL, 
	who VARCHAR NOT NULL, 
	corrects VARCHAR(64), 
	stage INTEGER, 
	wilted BOOLEAN NOT NULL, 
	shoot BOOLEAN NOT NULL, 
	loss VARCHAR, 
	removed INTEGER NOT NULL, 
	struck INTEGER, 
	lost INTEGER, 
	lost_struck INTEGER, 
	score INTEGER, as_row BOOLEAN DEFAULT '0' NOT NULL, parts VARCHAR DEFAULT '{}' NOT NULL, base VARCHAR, beside VARCHAR, device VARCHAR DEFAULT '' NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT ck_observation_void CHECK (kind != 'void' OR corrects IS NOT NULL), 
	CONSTRAINT ck_observation_kind CHECK (kind IN ('look', 'count', 'score', 'void')), 
	CONSTRAINT ck_observation_day CHECK (day >= 0), 
	CONSTRAINT ck_observation_score CHECK (score IS NULL OR score BETWEEN 0 AND 5), 
	FOREIGN KEY(corrects) REFERENCES observation (id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE, 
	FOREIGN KEY(unit_id) REFERENCES unit (id), 
	UNIQUE (seq)
);
CREATE INDEX ix_observation_trial_day ON observation (trial_id, day);
CREATE TRIGGER observation_no_update BEFORE UPDATE ON observation BEGIN SELECT RAISE(ABORT, 'observations are only ever added to'); END;
CREATE TRIGGER observation_no_delete BEFORE DELETE ON observation BEGIN SELECT RAISE(ABORT, 'observations are only ever added to'); END;
CREATE TABLE "trial" (
	id VARCHAR(32) NOT NULL, 
	created_at DATETIME NOT NULL, 
	created_by VARCHAR NOT NULL, 
	status VARCHAR NOT NULL, 
	started_at DATETIME, 
	unsealed_at DATETIME, 
	seed INTEGER, 
	invented BOOLEAN NOT NULL, 
	question VARCHAR NOT NULL, 
	material VARCHAR NOT NULL, 
	kind VARCHAR NOT NULL, 
	units INTEGER NOT NULL, 
	per_container INTEGER NOT NULL, 
	blocks INTEGER NOT NULL, 
	columns INTEGER NOT NULL, 
	endpoint INTEGER NOT NULL, 
	threshold_mm DOUBLE NOT NULL, 
	length_days INTEGER NOT NULL, 
	look_every_days INTEGER NOT NULL, 
	gap_points DOUBLE NOT NULL, 
	expected_percent DOUBLE NOT NULL, 
	blind BOOLEAN NOT NULL, 
	count_singly BOOLEAN NOT NULL, 
	time_zone VARCHAR NOT NULL, 
	day0 VARCHAR NOT NULL, 
	design VARCHAR DEFAULT '{}' NOT NULL, 
	fingerprint VARCHAR DEFAULT ('') NOT NULL, drawn_at DATETIME, frozen_at DATETIME, revision INTEGER DEFAULT '1' NOT NULL, repeats VARCHAR(32), 
	PRIMARY KEY (id), 
	CONSTRAINT ck_trial_started CHECK ((status = 'started') = (started_at IS NOT NULL)), 
	CONSTRAINT ck_trial_units CHECK (units BETWEEN 1 AND 5000), 
	CONSTRAINT ck_trial_blocks CHECK (blocks BETWEEN 1 AND 500), 
	CONSTRAINT ck_trial_status CHECK (status IN ('draft', 'started')), 
	CONSTRAINT ck_trial_per_container CHECK (per_container BETWEEN 1 AND 200), 
	CONSTRAINT ck_trial_days CHECK (length_days >= 1 AND look_every_days >= 1)
);
CREATE TABLE "treatment" (
	id VARCHAR(32) NOT NULL, 
	trial_id VARCHAR(32) NOT NULL, 
	position INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	role VARCHAR NOT NULL, 
	detail VARCHAR NOT NULL, 
	agent VARCHAR NOT NULL, 
	carrier VARCHAR NOT NULL, 
	silk VARCHAR NOT NULL, 
	traits VARCHAR DEFAULT '{}' NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT uq_treatment_position UNIQUE (trial_id, position), 
	CONSTRAINT ck_treatment_role CHECK (role IN ('control', 'carrier', 'positive', 'negative', 'standard', 'candidate')), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE
);
CREATE INDEX ix_treatment_trial_id ON treatment (trial_id);
CREATE UNIQUE INDEX uq_treatment_one_control ON treatment (trial_id) WHERE role = 'control';
CREATE TABLE "unit" (
	id VARCHAR(32) NOT NULL, 
	trial_id VARCHAR(32) NOT NULL, 
	tray INTEGER NOT NULL, 
	"row" INTEGER NOT NULL, 
	col INTEGER NOT NULL, 
	block INTEGER NOT NULL, 
	treatment_id VARCHAR(32), 
	border BOOLEAN DEFAULT 0 NOT NULL, 
	locked BOOLEAN DEFAULT 0 NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT uq_unit_place UNIQUE (trial_id, tray, "row", col), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE, 
	FOREIGN KEY(treatment_id) REFERENCES treatment (id)
);
CREATE INDEX ix_unit_trial_id ON unit (trial_id);
CREATE TABLE baseline (
	unit_id VARCHAR(32) NOT NULL, 
	trait VARCHAR NOT NULL, 
	value DOUBLE NOT NULL, 
	PRIMARY KEY (unit_id, trait), 
	CONSTRAINT ck_baseline_value CHECK (value >= 0), 
	FOREIGN KEY(unit_id) REFERENCES unit (id) ON DELETE CASCADE
);
CREATE TABLE amendment (
	id INTEGER NOT NULL, 
	trial_id VARCHAR(32) NOT NULL, 
	who VARCHAR NOT NULL, 
	field VARCHAR NOT NULL, 
	"before" VARCHAR NOT NULL, 
	"after" VARCHAR NOT NULL, 
	reason VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT ck_amendment_reason CHECK (length(reason) > 0), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE
);
CREATE INDEX ix_amendment_trial_id ON amendment (trial_id);
CREATE TRIGGER amendment_no_update BEFORE UPDATE ON amendment BEGIN SELECT RAISE(ABORT, 'amendments are only ever added to'); END;
CREATE TRIGGER amendment_no_delete BEFORE DELETE ON amendment BEGIN SELECT RAISE(ABORT, 'amendments are only ever added to'); END;
CREATE TABLE material (
	id VARCHAR(32) NOT NULL, 
	kind VARCHAR NOT NULL, 
	body VARCHAR NOT NULL, 
	created_at DATETIME NOT NULL, 
	changed_at DATETIME NOT NULL, 
	retired_at DATETIME, 
	PRIMARY KEY (id), 
	CONSTRAINT ck_material_kind CHECK (kind IN ('plant', 'agent'))
);
CREATE TABLE choice (
	"key" VARCHAR(80) NOT NULL, 
	value VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	PRIMARY KEY ("key")
);
CREATE TABLE recipe (
	id VARCHAR(32) NOT NULL, 
	trial_id VARCHAR(32) NOT NULL, 
	at DATETIME NOT NULL, 
	who VARCHAR NOT NULL, 
	arm VARCHAR NOT NULL, 
	"key" VARCHAR NOT NULL, 
	fields VARCHAR NOT NULL, 
	choices VARCHAR NOT NULL, 
	card VARCHAR NOT NULL, 
	override VARCHAR NOT NULL, 
	taken_off_at DATETIME, 
	PRIMARY KEY (id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE
);
CREATE TABLE mark (
	id VARCHAR(64) NOT NULL, 
	seq INTEGER NOT NULL, 
	trial_id VARCHAR(32) NOT NULL, 
	step VARCHAR NOT NULL, 
	what VARCHAR NOT NULL, 
	who VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE, 
	CONSTRAINT ck_mark_what CHECK (what IN ('start', 'stop', 'void')), 
	UNIQUE (seq)
);
CREATE TABLE setting (
	id INTEGER NOT NULL, 
	trial_id VARCHAR(32) NOT NULL, 
	unit_id VARCHAR(32) NOT NULL, 
	at DATETIME NOT NULL, 
	is_set BOOLEAN NOT NULL, 
	set_at DATETIME, 
	who VARCHAR NOT NULL, 
	why VARCHAR NOT NULL, 
	lot VARCHAR NOT NULL, 
	size VARCHAR NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE, 
	CONSTRAINT ck_setting_why CHECK (is_set OR length(why) > 0), 
	FOREIGN KEY(unit_id) REFERENCES unit (id)
);
CREATE INDEX ix_recipe_trial_id ON recipe (trial_id);
CREATE INDEX ix_mark_trial_id ON mark (trial_id);
CREATE INDEX ix_setting_trial_id ON setting (trial_id);
CREATE TRIGGER mark_no_update BEFORE UPDATE ON mark BEGIN SELECT RAISE(ABORT, 'a mark is only ever added to'); END;
CREATE TRIGGER setting_no_update BEFORE UPDATE ON setting BEGIN SELECT RAISE(ABORT, 'a setting is only ever added to'); END;
CREATE TRIGGER setting_no_delete BEFORE DELETE ON setting BEGIN SELECT RAISE(ABORT, 'a setting is only ever added to'); END;
CREATE TABLE reading (
	id INTEGER NOT NULL, 
	place VARCHAR NOT NULL, 
	quantity VARCHAR NOT NULL, 
	source VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	recorded_at DATETIME NOT NULL, 
	value FLOAT NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT uq_reading_moment UNIQUE (place, quantity, at)
);
CREATE INDEX ix_reading_place ON reading (place, quantity, at);
CREATE TABLE watch (
	id INTEGER NOT NULL, 
	trial_id VARCHAR(32) NOT NULL, 
	place VARCHAR NOT NULL, 
	quantity VARCHAR NOT NULL, 
	who VARCHAR NOT NULL, 
	high FLOAT, 
	low FLOAT, 
	base FLOAT, 
	is_on BOOLEAN NOT NULL, 
	at DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE
);
CREATE TABLE device (
	id VARCHAR(32) NOT NULL, 
	name VARCHAR NOT NULL, 
	key_hash VARCHAR NOT NULL, 
	joined_at DATETIME NOT NULL, 
	last_seen_at DATETIME, 
	withdrawn_at DATETIME, role VARCHAR DEFAULT 'helper' NOT NULL, 
	PRIMARY KEY (id)
);
CREATE INDEX ix_watch_trial_id ON watch (trial_id);
CREATE TRIGGER reading_no_update BEFORE UPDATE ON reading BEGIN SELECT RAISE(ABORT, 'a reading is only ever added to'); END;
CREATE TRIGGER watch_no_update BEFORE UPDATE ON watch BEGIN SELECT RAISE(ABORT, 'a watch is only ever added to'); END;
CREATE TABLE finish_word (
	id INTEGER NOT NULL, 
	trial_id VARCHAR(32) NOT NULL, 
	kind VARCHAR NOT NULL, 
	body VARCHAR NOT NULL, 
	who VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT ck_finish_word_kind CHECK (kind IN ('worth', 'conclusion')), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE
);
CREATE INDEX ix_finish_word_trial_id ON finish_word (trial_id);
CREATE TRIGGER finish_word_no_update BEFORE UPDATE ON finish_word BEGIN SELECT RAISE(ABORT, 'what was written beside a verdict is never altered'); END;
CREATE TRIGGER finish_word_no_delete BEFORE DELETE ON finish_word BEGIN SELECT RAISE(ABORT, 'what was written beside a verdict is never altered'); END;
CREATE TABLE dry_run (
	id VARCHAR(32) NOT NULL, 
	name VARCHAR NOT NULL, 
	body VARCHAR NOT NULL, 
	who VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	invented BOOLEAN NOT NULL, 
	PRIMARY KEY (id)
);
CREATE TABLE summary (
	trial_id VARCHAR(32) NOT NULL, 
	day INTEGER, 
	line VARCHAR NOT NULL, 
	tasks VARCHAR NOT NULL, 
	proposal VARCHAR NOT NULL, 
	PRIMARY KEY (trial_id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE
);
CREATE TRIGGER treatment_new_summary AFTER INSERT ON treatment BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER unit_new_summary AFTER INSERT ON unit BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER observation_new_summary AFTER INSERT ON observation BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER amendment_new_summary AFTER INSERT ON amendment BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER setting_new_summary AFTER INSERT ON setting BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER mark_new_summary AFTER INSERT ON mark BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER change_new_summary AFTER INSERT ON change BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER treatment_changed_summary AFTER UPDATE ON treatment BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER unit_changed_summary AFTER UPDATE ON unit BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER trial_changed_summary AFTER UPDATE ON trial BEGIN DELETE FROM summary WHERE trial_id = NEW.id; END;
CREATE INDEX ix_trial_created_at ON trial (created_at);
CREATE TABLE chain (
	seq INTEGER NOT NULL, 
	kind VARCHAR NOT NULL, 
	ref VARCHAR(64) NOT NULL, 
	columns VARCHAR NOT NULL, 
	hash VARCHAR(64) NOT NULL, 
	PRIMARY KEY (seq)
);
CREATE TRIGGER chain_no_update BEFORE UPDATE ON chain BEGIN SELECT RAISE(ABORT, 'a chain is only ever added to'); END;
CREATE TRIGGER chain_no_delete BEFORE DELETE ON chain BEGIN SELECT RAISE(ABORT, 'a chain is only ever added to'); END;
CREATE TABLE "entry" (
	id VARCHAR(64) NOT NULL, 
	seq INTEGER NOT NULL, 
	trial_id VARCHAR(32) NOT NULL, 
	kind VARCHAR NOT NULL, 
	scope VARCHAR NOT NULL, 
	target VARCHAR NOT NULL, 
	who VARCHAR NOT NULL, 
	what VARCHAR NOT NULL, 
	numbers VARCHAR NOT NULL, 
	text VARCHAR NOT NULL, 
	device VARCHAR NOT NULL, 
	day INTEGER NOT NULL, 
	seen_at DATETIME NOT NULL, 
	recorded_at DATETIME NOT NULL, 
	corrects VARCHAR, 
	PRIMARY KEY (id), 
	CONSTRAINT ck_entry_void CHECK (kind != 'void' OR corrects IS NOT NULL), 
	CONSTRAINT ck_entry_scope CHECK (scope IN ('unit', 'tray', 'arm', 'trial')), 
	CONSTRAINT ck_entry_day CHECK (day >= 0), 
	CONSTRAINT ck_entry_kind CHECK (kind IN ('event', 'measure', 'note', 'photo', 'second', 'void', 'traced')), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE, 
	UNIQUE (seq), 
	FOREIGN KEY(corrects) REFERENCES entry (id)
);
CREATE INDEX ix_entry_trial_id ON entry (trial_id);
CREATE TRIGGER entry_no_update BEFORE UPDATE ON entry BEGIN SELECT RAISE(ABORT, 'a entry is only ever added to'); END;
CREATE TRIGGER entry_no_delete BEFORE DELETE ON entry BEGIN SELECT RAISE(ABORT, 'a entry is only ever added to'); END;
CREATE TRIGGER entry_new_summary AFTER INSERT ON entry BEGIN DELETE FROM summary WHERE trial_id = NEW.trial_id; END;
CREATE TABLE form_line (
	trial_id VARCHAR(32) NOT NULL, 
	day INTEGER, 
	line VARCHAR NOT NULL, 
	PRIMARY KEY (trial_id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE
);
CREATE TRIGGER treatment_new_form AFTER INSERT ON treatment BEGIN DELETE FROM form_line WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER unit_new_form AFTER INSERT ON unit BEGIN DELETE FROM form_line WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER observation_new_form AFTER INSERT ON observation BEGIN DELETE FROM form_line WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER entry_new_form AFTER INSERT ON entry BEGIN DELETE FROM form_line WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER amendment_new_form AFTER INSERT ON amendment BEGIN DELETE FROM form_line WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER setting_new_form AFTER INSERT ON setting BEGIN DELETE FROM form_line WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER treatment_changed_form AFTER UPDATE ON treatment BEGIN DELETE FROM form_line WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER unit_changed_form AFTER UPDATE ON unit BEGIN DELETE FROM form_line WHERE trial_id = NEW.trial_id; END;
CREATE TRIGGER trial_changed_form AFTER UPDATE ON trial BEGIN DELETE FROM form_line WHERE trial_id = NEW.id; END;
CREATE TABLE training (
	id VARCHAR(32) NOT NULL, 
	who VARCHAR NOT NULL, 
	at DATETIME NOT NULL, 
	seed INTEGER NOT NULL, 
	marks VARCHAR NOT NULL, 
	PRIMARY KEY (id)
);
CREATE TABLE "read_in" (
	id VARCHAR(32) NOT NULL, 
	created_at DATETIME NOT NULL, 
	created_by VARCHAR NOT NULL, 
	name VARCHAR NOT NULL, 
	content BLOB NOT NULL, 
	unit VARCHAR, 
	control VARCHAR, 
	skipped VARCHAR NOT NULL, 
	dates VARCHAR, 
	turnout VARCHAR, 
	invented BOOLEAN DEFAULT 0 NOT NULL, 
	kind VARCHAR, 
	PRIMARY KEY (id)
);
CREATE TABLE garden_invite (
	id VARCHAR(32) NOT NULL, 
	trial_id VARCHAR(32) NOT NULL, 
	token VARCHAR(64) NOT NULL, 
	pack VARCHAR NOT NULL, 
	made_at DATETIME NOT NULL, 
	closed_at DATETIME, 
	PRIMARY KEY (id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id) ON DELETE CASCADE, 
	UNIQUE (token)
);
CREATE INDEX ix_garden_invite_trial_id ON garden_invite (trial_id);
CREATE TABLE garden (
	id VARCHAR(32) NOT NULL, 
	invite_id VARCHAR(32) NOT NULL, 
	number INTEGER NOT NULL, 
	key_hash VARCHAR(64) NOT NULL, 
	joined_at DATETIME NOT NULL, 
	gone_at DATETIME, 
	PRIMARY KEY (id), 
	FOREIGN KEY(invite_id) REFERENCES garden_invite (id) ON DELETE CASCADE, 
	UNIQUE (invite_id, number)
);
CREATE TABLE garden_report (
	n INTEGER NOT NULL, 
	garden_id VARCHAR(32) NOT NULL, 
	at DATETIME NOT NULL, 
	body VARCHAR NOT NULL, 
	PRIMARY KEY (n), 
	FOREIGN KEY(garden_id) REFERENCES garden (id) ON DELETE CASCADE
);
CREATE INDEX ix_garden_report_garden_id ON garden_report (garden_id);
