BEGIN TRANSACTION;
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
CREATE TABLE rigs (
	id INTEGER NOT NULL, 
	created_utc DATETIME NOT NULL, 
	units JSON NOT NULL, archived BOOLEAN DEFAULT '0' NOT NULL, 
	CONSTRAINT pk_rigs PRIMARY KEY (id)
);
CREATE TABLE rig_revisions (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	why VARCHAR NOT NULL, 
	card JSON NOT NULL, happened JSON DEFAULT '[]' NOT NULL, 
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
	"key" VARCHAR NOT NULL, 
	CONSTRAINT pk_observations PRIMARY KEY (id), 
	CONSTRAINT fk_observations_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
CREATE TABLE bench_entries (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	station VARCHAR NOT NULL, 
	"key" VARCHAR NOT NULL, 
	revision INTEGER NOT NULL, 
	entered_utc DATETIME NOT NULL, 
	number FLOAT, 
	choice VARCHAR NOT NULL, 
	points JSON NOT NULL, 
	"after" VARCHAR NOT NULL, 
	note VARCHAR NOT NULL, 
	removed BOOLEAN NOT NULL, 
	CONSTRAINT pk_bench_entries PRIMARY KEY (id), 
	CONSTRAINT fk_bench_entries_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
CREATE TABLE photos (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	added_utc DATETIME NOT NULL, 
	width INTEGER NOT NULL, 
	height INTEGER NOT NULL, 
	jpeg BLOB NOT NULL, 
	CONSTRAINT pk_photos PRIMARY KEY (id), 
	CONSTRAINT fk_photos_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
CREATE TABLE witness_marks (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	line INTEGER NOT NULL, 
	revision INTEGER NOT NULL, 
	entered_utc DATETIME NOT NULL, 
	joint VARCHAR NOT NULL, 
	place VARCHAR NOT NULL, 
	photo_id INTEGER, 
	removed BOOLEAN NOT NULL, 
	CONSTRAINT pk_witness_marks PRIMARY KEY (id), 
	CONSTRAINT fk_witness_marks_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id), 
	CONSTRAINT fk_witness_marks_photo_id_photos FOREIGN KEY(photo_id) REFERENCES photos (id)
);
CREATE TABLE sight_models (
	id INTEGER NOT NULL, 
	model INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	sight JSON NOT NULL, 
	removed BOOLEAN NOT NULL, 
	CONSTRAINT pk_sight_models PRIMARY KEY (id), 
	CONSTRAINT uq_sight_models_model UNIQUE (model, number)
);
INSERT INTO alembic_version (version_num) VALUES ('0002');
INSERT INTO rigs (id, created_utc, units, archived) VALUES (1, '2026-11-20 00:20:16.982211', '{"distance": "m", "offset": "cm", "length": "mm", "speed": "fps", "mass": "gr"}', 0);
INSERT INTO rigs (id, created_utc, units, archived) VALUES (5, '2026-11-20 00:20:16.982211', '{"distance": "m", "offset": "cm", "length": "mm", "speed": "fps", "mass": "gr"}', 0);
INSERT INTO rig_revisions (id, rig_id, number, saved_utc, why, card, happened) VALUES (1, 1, 1, '2026-11-20 00:20:16.982211', 'new on the bench', '{"name": "Ledge bow, 61 lb", "archer": "Maren Oake", "occasion": "", "due": null, "bow": {"words": "", "draw_weight_n": null, "nock_to_rest_m": null, "least_mass_per_force": null}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "", "kind": "single_pin_slider", "axes": ["", "", ""], "second_axis_carries_pins": "", "pins": [], "pins_in_line": "", "housing": {"inner_mm": null, "outer_mm": null, "below_pin_mm": null, "pin_room_mm": null}, "slider_travel_mm": null, "home_stop": "", "coarse_steps_mm": [], "extension_mm": [], "holes_mm": [], "scale_division_mm": null, "controls": [], "screws": [], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": null}, "note": ""}, "mount": {"hole": null, "detent": null, "home": "", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": null, "vanes_mm": null, "clearance_mm": null, "torque": ""}, "builds": [{"name": "", "shaft_length_m": null, "shaft_kg_per_m": null, "shaft_diameter_m": null, "components": [], "measured_mass_kg": null, "spine": "", "spine_for": null, "sessions": []}], "in_use": 0, "eye_to_sight_m": null, "peep": {"way": "square", "square_m": null, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": null, "eye_to_peep_m": null}, "ranged_from": "eye", "goals": {"home_m": null, "farthest_m": null, "target_size_m": null, "group_size_m": null, "group_at_m": null, "distances_m": [], "pin_distances_m": [], "level_only": false, "slope_up_rad": null, "slope_down_rad": null, "rules": ""}}', '[]');
INSERT INTO rig_revisions (id, rig_id, number, saved_utc, why, card, happened) VALUES (2, 1, 2, '2026-11-20 00:55:16.982211', 'measured on the draw board', '{"name": "Ledge bow, 61 lb", "archer": "Maren Oake", "occasion": "Ledge Round", "due": "2026-12-05", "bow": {"words": "compound, 36 in axle to axle", "draw_weight_n": 271.3415185308905, "nock_to_rest_m": null, "least_mass_per_force": null}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "three pins, 44 mm housing", "kind": "multi_pin_slider", "axes": ["slots", "pair", "pair"], "second_axis_carries_pins": "yes", "pins": [{"thickness_mm": 0.48, "colour": "", "retractable": false}, {"thickness_mm": 0.48, "colour": "", "retractable": false}, {"thickness_mm": 0.48, "colour": "", "retractable": false}], "pins_in_line": "yes", "housing": {"inner_mm": 44.0, "outer_mm": 52.0, "below_pin_mm": 26.0, "pin_room_mm": 30.0}, "slider_travel_mm": 45.0, "home_stop": "fixed", "coarse_steps_mm": [], "extension_mm": [0.0, 12.0, 24.0, 36.0], "holes_mm": [0.0, 9.5], "scale_division_mm": null, "controls": [{"name": "Elevation wheel", "moves": "elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 45.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Housing, up and down", "moves": "gang_elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 18.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Windage micro", "moves": "windage", "per_click_mm": 0.05, "clicks_per_turn": 20.0, "per_turn_mm": null, "travel_mm": 10.0, "position_mm": null, "clockwise": "", "checked": false}], "screws": [{"name": "Mount bolts, two", "movement": "mount", "drive": "bolt", "unlock_first": "", "key_size": "4 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Dovetail clamp", "movement": "extension", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false}, {"name": "Slide lock", "movement": "slide_lock", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false}, {"name": "Housing, up and down", "movement": "gang_elevation", "drive": "screw_lock", "unlock_first": "half a turn", "key_size": "2.5 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Housing, left and right", "movement": "gang_windage", "drive": "screw_lock", "unlock_first": "half a turn", "key_size": "2.5 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Pin screw", "movement": "pin", "drive": "screw_lock", "unlock_first": "a turn", "key_size": "1.5 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Rail block screws", "movement": "first_axis", "drive": "slots", "unlock_first": "half a turn", "key_size": "3 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Second-axis pair", "movement": "second_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Third-axis pair", "movement": "third_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Vial''s end screws", "movement": "vial", "drive": "pair", "unlock_first": "", "key_size": "1.3 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "End-stop screw of the rail", "movement": "stop", "drive": "bolt", "unlock_first": "", "key_size": "", "key_system": "", "hidden": true, "never": true}], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": 60.0}, "note": ""}, "mount": {"hole": null, "detent": null, "home": "", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": null, "vanes_mm": null, "clearance_mm": null, "torque": ""}, "builds": [{"name": "slim carbon, low vanes", "shaft_length_m": 0.724, "shaft_kg_per_m": 0.0168, "shaft_diameter_m": 0.0058, "components": [{"name": "Nock", "mass_kg": 0.00055, "centre_from_throat_m": 0.002}, {"name": "Vanes", "mass_kg": 0.0011, "centre_from_throat_m": 0.048}, {"name": "Collar", "mass_kg": 0.0019, "centre_from_throat_m": 0.718}, {"name": "Point", "mass_kg": 0.0078, "centre_from_throat_m": 0.728}], "measured_mass_kg": null, "spine": "", "spine_for": null, "sessions": [{"readings_mps": [82.01, 82.51, 82.59, 81.86, 82.02, 82.31], "left_out": [], "distance_m": 1.5, "accuracy": 0.005, "day": null, "draw_weight_n": 271.3415185308905, "mass_kg": 0.023513199999999998}]}], "in_use": 0, "eye_to_sight_m": 0.822, "peep": {"way": "along", "square_m": null, "along_m": 0.164, "angle_rad": 0.6719517620178169, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": null, "eye_to_peep_m": null}, "ranged_from": "eye", "goals": {"home_m": 17.0, "farthest_m": 95.0, "target_size_m": 0.25, "group_size_m": 0.1, "group_at_m": 38.0, "distances_m": [], "pin_distances_m": [], "level_only": false, "slope_up_rad": null, "slope_down_rad": null, "rules": ""}}', '[]');
INSERT INTO rig_revisions (id, rig_id, number, saved_utc, why, card, happened) VALUES (9, 5, 1, '2026-11-20 00:20:16.982211', 'new on the bench', '{"name": "Kiln bow, 48 lb", "archer": "Aud Farrow", "occasion": "", "due": null, "bow": {"words": "", "draw_weight_n": null, "nock_to_rest_m": null, "least_mass_per_force": null}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "", "kind": "single_pin_slider", "axes": ["", "", ""], "second_axis_carries_pins": "", "pins": [], "pins_in_line": "", "housing": {"inner_mm": null, "outer_mm": null, "below_pin_mm": null, "pin_room_mm": null}, "slider_travel_mm": null, "home_stop": "", "coarse_steps_mm": [], "extension_mm": [], "holes_mm": [], "scale_division_mm": null, "controls": [], "screws": [], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": null}, "note": ""}, "mount": {"hole": null, "detent": null, "home": "", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": null, "vanes_mm": null, "clearance_mm": null, "torque": ""}, "builds": [{"name": "", "shaft_length_m": null, "shaft_kg_per_m": null, "shaft_diameter_m": null, "components": [], "measured_mass_kg": null, "spine": "", "spine_for": null, "sessions": []}], "in_use": 0, "eye_to_sight_m": null, "peep": {"way": "square", "square_m": null, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": null, "eye_to_peep_m": null}, "ranged_from": "eye", "goals": {"home_m": null, "farthest_m": null, "target_size_m": null, "group_size_m": null, "group_at_m": null, "distances_m": [], "pin_distances_m": [], "level_only": false, "slope_up_rad": null, "slope_down_rad": null, "rules": ""}}', '[]');
INSERT INTO rig_revisions (id, rig_id, number, saved_utc, why, card, happened) VALUES (10, 5, 2, '2026-11-20 00:20:16.982211', 'booked in', '{"name": "Kiln bow, 48 lb", "archer": "Aud Farrow", "occasion": "first outing", "due": "2026-12-19", "bow": {"words": "compound, 31 in axle to axle", "draw_weight_n": 213.51463753250397, "nock_to_rest_m": null, "least_mass_per_force": null}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "one pin, 41 mm housing", "kind": "single_pin_slider", "axes": ["slots", "pair", "pair"], "second_axis_carries_pins": "yes", "pins": [{"thickness_mm": 0.48, "colour": "", "retractable": false}], "pins_in_line": "yes", "housing": {"inner_mm": 41.0, "outer_mm": 48.0, "below_pin_mm": 24.0, "pin_room_mm": null}, "slider_travel_mm": 45.0, "home_stop": "fixed", "coarse_steps_mm": [], "extension_mm": [0.0, 12.0, 24.0, 36.0], "holes_mm": [0.0, 9.5], "scale_division_mm": null, "controls": [{"name": "Elevation wheel", "moves": "elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 45.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Windage micro", "moves": "windage", "per_click_mm": 0.05, "clicks_per_turn": 20.0, "per_turn_mm": null, "travel_mm": 10.0, "position_mm": null, "clockwise": "", "checked": false}], "screws": [{"name": "Mount bolts, two", "movement": "mount", "drive": "bolt", "unlock_first": "", "key_size": "4 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Dovetail clamp", "movement": "extension", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false}, {"name": "Slide lock", "movement": "slide_lock", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false}, {"name": "Rail block screws", "movement": "first_axis", "drive": "slots", "unlock_first": "half a turn", "key_size": "3 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Second-axis pair", "movement": "second_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Third-axis pair", "movement": "third_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Vial''s end screws", "movement": "vial", "drive": "pair", "unlock_first": "", "key_size": "1.3 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "End-stop screw of the rail", "movement": "stop", "drive": "bolt", "unlock_first": "", "key_size": "", "key_system": "", "hidden": true, "never": true}], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": 60.0}, "note": ""}, "mount": {"hole": null, "detent": null, "home": "", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": null, "vanes_mm": null, "clearance_mm": null, "torque": ""}, "builds": [{"name": "", "shaft_length_m": null, "shaft_kg_per_m": null, "shaft_diameter_m": null, "components": [], "measured_mass_kg": null, "spine": "", "spine_for": null, "sessions": []}], "in_use": 0, "eye_to_sight_m": null, "peep": {"way": "square", "square_m": null, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": null, "eye_to_peep_m": null}, "ranged_from": "eye", "goals": {"home_m": 17.0, "farthest_m": 61.0, "target_size_m": 0.3, "group_size_m": null, "group_at_m": null, "distances_m": [], "pin_distances_m": [], "level_only": false, "slope_up_rad": null, "slope_down_rad": null, "rules": ""}}', '[]');
INSERT INTO observations (id, rig_id, line, revision, entered_utc, ranged_m, mark_mm, up_m, arrows, left_out, removed, key) VALUES (1, 1, 1, 2, '2026-11-21 00:20:16.982211', 17.0, 22.2, 0.01, 6, 0, 0, '');
INSERT INTO observations (id, rig_id, line, revision, entered_utc, ranged_m, mark_mm, up_m, arrows, left_out, removed, key) VALUES (2, 1, 2, 2, '2026-11-21 00:38:16.982211', 38.0, 31.8, -0.035, 6, 0, 0, '');
INSERT INTO observations (id, rig_id, line, revision, entered_utc, ranged_m, mark_mm, up_m, arrows, left_out, removed, key) VALUES (3, 1, 3, 2, '2026-11-21 00:56:16.982211', 61.0, 46.3, -0.01, 6, 0, 0, '');
INSERT INTO sight_models (id, model, number, saved_utc, sight, removed) VALUES (1, 1, 1, '2026-11-20 08:00:00.000000', '{"name": "single-pin slider, generic", "kind": "single_pin_slider", "axes": ["slots", "pair", "pair"], "second_axis_carries_pins": "yes", "pins": [{"thickness_mm": 0.48, "colour": "", "retractable": false}], "pins_in_line": "yes", "housing": {"inner_mm": 41.0, "outer_mm": 48.0, "below_pin_mm": 24.0, "pin_room_mm": null}, "slider_travel_mm": 45.0, "home_stop": "fixed", "coarse_steps_mm": [], "extension_mm": [0.0, 12.0, 24.0, 36.0], "holes_mm": [0.0, 9.5], "scale_division_mm": null, "controls": [{"name": "Elevation wheel", "moves": "elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 45.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Windage micro", "moves": "windage", "per_click_mm": 0.05, "clicks_per_turn": 20.0, "per_turn_mm": null, "travel_mm": 10.0, "position_mm": null, "clockwise": "", "checked": false}], "screws": [{"name": "Mount bolts, two", "movement": "mount", "drive": "bolt", "unlock_first": "", "key_size": "4 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Dovetail clamp", "movement": "extension", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false}, {"name": "Slide lock", "movement": "slide_lock", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false}, {"name": "Rail block screws", "movement": "first_axis", "drive": "slots", "unlock_first": "half a turn", "key_size": "3 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Second-axis pair", "movement": "second_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Third-axis pair", "movement": "third_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Vial''s end screws", "movement": "vial", "drive": "pair", "unlock_first": "", "key_size": "1.3 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "End-stop screw of the rail", "movement": "stop", "drive": "bolt", "unlock_first": "", "key_size": "", "key_system": "", "hidden": true, "never": true}], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": 60.0}, "note": ""}', 0);
CREATE INDEX ix_rig_revisions_rig_id ON rig_revisions (rig_id);
CREATE INDEX ix_observations_rig_id ON observations (rig_id);
CREATE TRIGGER rig_revisions_no_update BEFORE UPDATE ON rig_revisions BEGIN SELECT RAISE(ABORT, 'rig_revisions is a record: add, never change'); END;
CREATE TRIGGER rig_revisions_no_delete BEFORE DELETE ON rig_revisions BEGIN SELECT RAISE(ABORT, 'rig_revisions is a record: add, never change'); END;
CREATE TRIGGER observations_no_update BEFORE UPDATE ON observations BEGIN SELECT RAISE(ABORT, 'observations is a record: add, never change'); END;
CREATE TRIGGER observations_no_delete BEFORE DELETE ON observations BEGIN SELECT RAISE(ABORT, 'observations is a record: add, never change'); END;
CREATE INDEX ix_bench_entries_rig_id ON bench_entries (rig_id);
CREATE INDEX ix_photos_rig_id ON photos (rig_id);
CREATE INDEX ix_witness_marks_rig_id ON witness_marks (rig_id);
CREATE TRIGGER bench_entries_no_update BEFORE UPDATE ON bench_entries BEGIN SELECT RAISE(ABORT, 'bench_entries is a record: add, never change'); END;
CREATE TRIGGER bench_entries_no_delete BEFORE DELETE ON bench_entries BEGIN SELECT RAISE(ABORT, 'bench_entries is a record: add, never change'); END;
CREATE TRIGGER photos_no_update BEFORE UPDATE ON photos BEGIN SELECT RAISE(ABORT, 'photos is a record: add, never change'); END;
CREATE TRIGGER photos_no_delete BEFORE DELETE ON photos BEGIN SELECT RAISE(ABORT, 'photos is a record: add, never change'); END;
CREATE TRIGGER witness_marks_no_update BEFORE UPDATE ON witness_marks BEGIN SELECT RAISE(ABORT, 'witness_marks is a record: add, never change'); END;
CREATE TRIGGER witness_marks_no_delete BEFORE DELETE ON witness_marks BEGIN SELECT RAISE(ABORT, 'witness_marks is a record: add, never change'); END;
CREATE TRIGGER sight_models_no_update BEFORE UPDATE ON sight_models BEGIN SELECT RAISE(ABORT, 'sight_models is a record: add, never change'); END;
CREATE TRIGGER sight_models_no_delete BEFORE DELETE ON sight_models BEGIN SELECT RAISE(ABORT, 'sight_models is a record: add, never change'); END;
COMMIT;
