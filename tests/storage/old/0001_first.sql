BEGIN TRANSACTION;
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
CREATE TABLE rigs (
	id INTEGER NOT NULL, 
	created_utc DATETIME NOT NULL, 
	units JSON NOT NULL, 
	CONSTRAINT pk_rigs PRIMARY KEY (id)
);
CREATE TABLE rig_revisions (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	why VARCHAR NOT NULL, 
	card JSON NOT NULL, 
	CONSTRAINT pk_rig_revisions PRIMARY KEY (id), 
	CONSTRAINT fk_rig_revisions_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id), 
	CONSTRAINT uq_rig_revisions_rig_id UNIQUE (rig_id, number)
);
CREATE TABLE observations (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	line INTEGER NOT NULL, 
	revision INTEGER NOT NULL, 
	entered_utc DATETIME NOT NULL, 
	ranged_m FLOAT NOT NULL, 
	mark_mm FLOAT NOT NULL, 
	up_m FLOAT, 
	arrows INTEGER, 
	left_out BOOLEAN NOT NULL, 
	removed BOOLEAN NOT NULL, 
	CONSTRAINT pk_observations PRIMARY KEY (id), 
	CONSTRAINT fk_observations_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
INSERT INTO alembic_version (version_num) VALUES ('0001');
INSERT INTO rigs (id, created_utc, units) VALUES (1, '2026-11-20 00:20:09.580131', '{"distance": "m", "offset": "cm", "length": "mm", "speed": "fps", "mass": "gr"}');
INSERT INTO rigs (id, created_utc, units) VALUES (5, '2026-11-20 00:20:09.580131', '{"distance": "m", "offset": "cm", "length": "mm", "speed": "fps", "mass": "gr"}');
INSERT INTO rig_revisions (id, rig_id, number, saved_utc, why, card) VALUES (1, 1, 1, '2026-11-20 00:20:09.580131', 'new on the bench', '{"name": "Ledge bow, 61 lb", "archer": "Maren Oake", "occasion": "", "due": null, "bow": "", "handed": "right", "sight_kind": "single_pin_slider", "sight": "", "build": {"name": "", "shaft_length_m": null, "shaft_kg_per_m": null, "shaft_diameter_m": null, "components": []}, "chronograph": {"readings_mps": [], "left_out": [], "distance_m": 1.5, "accuracy": 0.005}, "eye_to_sight_m": null, "peep": {"way": "square", "square_m": null, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null}, "ranged_from": "eye", "goals": {"home_m": null, "farthest_m": null, "target_size_m": null, "group_size_m": null, "group_at_m": null}, "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0}}');
INSERT INTO rig_revisions (id, rig_id, number, saved_utc, why, card) VALUES (2, 1, 2, '2026-11-20 00:55:09.580131', 'measured on the draw board', '{"name": "Ledge bow, 61 lb", "archer": "Maren Oake", "occasion": "Ledge Round", "due": "2026-12-05", "bow": "compound, 36 in axle to axle", "handed": "right", "sight_kind": "multi_pin_slider", "sight": "three pins, 44 mm housing, straight slide", "build": {"name": "slim carbon, low vanes", "shaft_length_m": 0.724, "shaft_kg_per_m": 0.0168, "shaft_diameter_m": 0.0058, "components": [{"name": "Nock", "mass_kg": 0.00055, "centre_from_throat_m": 0.002}, {"name": "Vanes", "mass_kg": 0.0011, "centre_from_throat_m": 0.048}, {"name": "Collar", "mass_kg": 0.0019, "centre_from_throat_m": 0.718}, {"name": "Point", "mass_kg": 0.0078, "centre_from_throat_m": 0.728}]}, "chronograph": {"readings_mps": [82.01, 82.51, 82.59, 81.86, 82.02, 82.31], "left_out": [], "distance_m": 1.5, "accuracy": 0.005}, "eye_to_sight_m": 0.822, "peep": {"way": "along", "square_m": null, "along_m": 0.164, "angle_rad": 0.6719517620178169, "axle_to_axle_m": null, "true_draw_m": null}, "ranged_from": "eye", "goals": {"home_m": 17.0, "farthest_m": 95.0, "target_size_m": 0.25, "group_size_m": 0.1, "group_at_m": 38.0}, "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0}}');
INSERT INTO rig_revisions (id, rig_id, number, saved_utc, why, card) VALUES (9, 5, 1, '2026-11-20 00:20:09.580131', 'new on the bench', '{"name": "Kiln bow, 48 lb", "archer": "Aud Farrow", "occasion": "", "due": null, "bow": "", "handed": "right", "sight_kind": "single_pin_slider", "sight": "", "build": {"name": "", "shaft_length_m": null, "shaft_kg_per_m": null, "shaft_diameter_m": null, "components": []}, "chronograph": {"readings_mps": [], "left_out": [], "distance_m": 1.5, "accuracy": 0.005}, "eye_to_sight_m": null, "peep": {"way": "square", "square_m": null, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null}, "ranged_from": "eye", "goals": {"home_m": null, "farthest_m": null, "target_size_m": null, "group_size_m": null, "group_at_m": null}, "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0}}');
INSERT INTO rig_revisions (id, rig_id, number, saved_utc, why, card) VALUES (10, 5, 2, '2026-11-20 00:20:09.580131', 'booked in', '{"name": "Kiln bow, 48 lb", "archer": "Aud Farrow", "occasion": "first outing", "due": "2026-12-19", "bow": "compound, 31 in axle to axle", "handed": "right", "sight_kind": "single_pin_slider", "sight": "one pin, 41 mm housing", "build": {"name": "", "shaft_length_m": null, "shaft_kg_per_m": null, "shaft_diameter_m": null, "components": []}, "chronograph": {"readings_mps": [], "left_out": [], "distance_m": 1.5, "accuracy": 0.005}, "eye_to_sight_m": null, "peep": {"way": "square", "square_m": null, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null}, "ranged_from": "eye", "goals": {"home_m": 17.0, "farthest_m": 61.0, "target_size_m": 0.3, "group_size_m": null, "group_at_m": null}, "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0}}');
INSERT INTO observations (id, rig_id, line, revision, entered_utc, ranged_m, mark_mm, up_m, arrows, left_out, removed) VALUES (1, 1, 1, 2, '2026-11-21 00:20:09.580131', 17.0, 22.2, 0.01, 6, 0, 0);
INSERT INTO observations (id, rig_id, line, revision, entered_utc, ranged_m, mark_mm, up_m, arrows, left_out, removed) VALUES (2, 1, 2, 2, '2026-11-21 00:38:09.580131', 38.0, 31.8, -0.035, 6, 0, 0);
INSERT INTO observations (id, rig_id, line, revision, entered_utc, ranged_m, mark_mm, up_m, arrows, left_out, removed) VALUES (3, 1, 3, 2, '2026-11-21 00:56:09.580131', 61.0, 46.3, -0.01, 6, 0, 0);
CREATE INDEX ix_rig_revisions_rig_id ON rig_revisions (rig_id);
CREATE INDEX ix_observations_rig_id ON observations (rig_id);
CREATE TRIGGER rig_revisions_no_update BEFORE UPDATE ON rig_revisions BEGIN SELECT RAISE(ABORT, 'rig_revisions is a record: add, never change'); END;
CREATE TRIGGER rig_revisions_no_delete BEFORE DELETE ON rig_revisions BEGIN SELECT RAISE(ABORT, 'rig_revisions is a record: add, never change'); END;
CREATE TRIGGER observations_no_update BEFORE UPDATE ON observations BEGIN SELECT RAISE(ABORT, 'observations is a record: add, never change'); END;
CREATE TRIGGER observations_no_delete BEFORE DELETE ON observations BEGIN SELECT RAISE(ABORT, 'observations is a record: add, never change'); END;
COMMIT;
