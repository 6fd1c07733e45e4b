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
	"key" VARCHAR NOT NULL, pin INTEGER DEFAULT '0' NOT NULL, reason VARCHAR DEFAULT '' NOT NULL, 
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
CREATE TABLE level_readings (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	revision INTEGER NOT NULL, 
	entered_utc DATETIME NOT NULL, 
	axis VARCHAR NOT NULL, 
	method VARCHAR NOT NULL, 
	pitch_rad FLOAT NOT NULL, 
	vial_div FLOAT NOT NULL, 
	reference_div FLOAT NOT NULL, 
	turns FLOAT, 
	locked BOOLEAN NOT NULL, 
	who VARCHAR NOT NULL, 
	note VARCHAR NOT NULL, 
	photo_id INTEGER, 
	undoes INTEGER, 
	CONSTRAINT pk_level_readings PRIMARY KEY (id), 
	CONSTRAINT fk_level_readings_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id), 
	CONSTRAINT fk_level_readings_photo_id_photos FOREIGN KEY(photo_id) REFERENCES photos (id)
);
CREATE TABLE range_sessions (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	entered_utc DATETIME NOT NULL, 
	number INTEGER NOT NULL, 
	revision INTEGER NOT NULL, 
	place VARCHAR NOT NULL, 
	light VARCHAR NOT NULL, 
	who VARCHAR NOT NULL, 
	note VARCHAR NOT NULL, 
	build VARCHAR NOT NULL, 
	counts VARCHAR NOT NULL, 
	crosswind_mps FLOAT, 
	temperature_c FLOAT, 
	CONSTRAINT pk_range_sessions PRIMARY KEY (id), 
	CONSTRAINT fk_range_sessions_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
CREATE TABLE range_ends (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	entered_utc DATETIME NOT NULL, 
	place INTEGER NOT NULL, 
	session INTEGER NOT NULL, 
	revision INTEGER NOT NULL, 
	pin INTEGER NOT NULL, 
	ranged_m FLOAT, 
	dial_mm FLOAT, 
	note VARCHAR NOT NULL, 
	left_out BOOLEAN NOT NULL, 
	removed BOOLEAN NOT NULL, 
	asked BOOLEAN NOT NULL, 
	CONSTRAINT pk_range_ends PRIMARY KEY (id), 
	CONSTRAINT fk_range_ends_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
CREATE TABLE range_shots (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	entered_utc DATETIME NOT NULL, 
	end_key VARCHAR NOT NULL, 
	right_m FLOAT NOT NULL, 
	up_m FLOAT NOT NULL, 
	called_bad BOOLEAN NOT NULL, 
	removed BOOLEAN NOT NULL, 
	CONSTRAINT pk_range_shots PRIMARY KEY (id), 
	CONSTRAINT fk_range_shots_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
CREATE TABLE range_moves (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	entered_utc DATETIME NOT NULL, 
	place INTEGER NOT NULL, 
	revision INTEGER NOT NULL, 
	drive VARCHAR NOT NULL, 
	moves VARCHAR NOT NULL, 
	unit VARCHAR NOT NULL, 
	amount FLOAT NOT NULL, 
	pin INTEGER, 
	placed BOOLEAN NOT NULL, 
	removed BOOLEAN NOT NULL, 
	CONSTRAINT pk_range_moves PRIMARY KEY (id), 
	CONSTRAINT fk_range_moves_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
CREATE TABLE printed_tapes (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	revision INTEGER NOT NULL, 
	printed_utc DATETIME NOT NULL, 
	sheet JSON NOT NULL, 
	CONSTRAINT pk_printed_tapes PRIMARY KEY (id), 
	CONSTRAINT fk_printed_tapes_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
INSERT INTO alembic_version (version_num) VALUES ('0005');
INSERT INTO rigs (id, created_utc, units, archived) VALUES (1, '2026-11-20 00:20:56.321609', '{"distance": "m", "offset": "cm", "length": "mm", "speed": "fps", "mass": "gr"}', 0);
INSERT INTO rigs (id, created_utc, units, archived) VALUES (7, '2026-11-23 00:20:56.321609', '{"distance": "m", "offset": "cm", "length": "mm", "speed": "fps", "mass": "gr"}', 0);
INSERT INTO rig_revisions (id, rig_id, number, saved_utc, why, card, happened) VALUES (1, 1, 1, '2026-11-20 00:20:56.321609', 'new on the bench', '{"name": "Ledge bow, 61 lb", "archer": "Maren Oake", "occasion": "", "due": null, "bow": {"words": "", "draw_weight_n": null, "nock_to_rest_m": null, "least_mass_per_force": null}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "", "kind": "single_pin_slider", "axes": ["", "", ""], "second_axis_carries_pins": "", "pins": [], "pins_in_line": "", "housing": {"inner_mm": null, "outer_mm": null, "below_pin_mm": null, "pin_room_mm": null}, "slider_travel_mm": null, "home_stop": "", "coarse_steps_mm": [], "extension_mm": [], "holes_mm": [], "scale_division_mm": null, "controls": [], "screws": [], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": null, "ratio_sd": 0.0, "places_mm": []}, "note": "", "hand": "", "index_marks": "", "dovetail_mm": null, "booklet": {"from_m": null, "to_m": null, "strips": [], "read_label": "", "used": ""}}, "mount": {"hole": null, "detent": null, "home": "", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": null, "vanes_mm": null, "clearance_mm": null, "torque": ""}, "level": {"reference": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "rail": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "sight": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "seat": "", "seat_words": "", "yaw_rad": 0.0, "yaw_proved": false, "tolerance_m": null, "string": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}}, "builds": [{"name": "", "shaft_length_m": null, "shaft_kg_per_m": null, "shaft_diameter_m": null, "components": [], "measured_mass_kg": null, "spine": "", "spine_for": null, "sessions": []}], "in_use": 0, "eye_to_sight_m": null, "peep": {"way": "square", "square_m": null, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": null, "eye_to_peep_m": null}, "ranged_from": "eye", "goals": {"home_m": null, "farthest_m": null, "target_size_m": null, "group_size_m": null, "group_at_m": null, "distances_m": [], "pin_distances_m": [], "level_only": false, "slope_up_rad": null, "slope_down_rad": null, "rules": ""}}', '[]');
INSERT INTO rig_revisions (id, rig_id, number, saved_utc, why, card, happened) VALUES (2, 1, 2, '2026-11-20 00:55:56.321609', 'measured on the draw board', '{"name": "Ledge bow, 61 lb", "archer": "Maren Oake", "occasion": "Ledge Round", "due": "2026-12-05", "bow": {"words": "compound, 36 in axle to axle", "draw_weight_n": 271.3415185308905, "nock_to_rest_m": 0.694, "least_mass_per_force": 7.28368723555663e-05}, "handed": "right", "release": "thumb button", "anchor": "knuckles under the jaw, string at the tip of the nose", "sight": {"name": "three pins, 44 mm housing", "kind": "multi_pin_slider", "axes": ["slots", "pair", "pair"], "second_axis_carries_pins": "yes", "pins": [{"thickness_mm": 0.48, "colour": "", "retractable": false}, {"thickness_mm": 0.48, "colour": "", "retractable": false}, {"thickness_mm": 0.48, "colour": "", "retractable": false}], "pins_in_line": "yes", "housing": {"inner_mm": 44.0, "outer_mm": 52.0, "below_pin_mm": 26.0, "pin_room_mm": 30.0}, "slider_travel_mm": 50.0, "home_stop": "fixed", "coarse_steps_mm": [], "extension_mm": [0.0, 12.0, 24.0, 36.0], "holes_mm": [0.0, 9.5], "scale_division_mm": null, "controls": [{"name": "Elevation wheel", "moves": "elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 50.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Housing, up and down", "moves": "gang_elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 18.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Windage micro", "moves": "windage", "per_click_mm": 0.05, "clicks_per_turn": 20.0, "per_turn_mm": null, "travel_mm": 10.0, "position_mm": null, "clockwise": "", "checked": false}], "screws": [{"name": "Mount bolts, two", "movement": "mount", "drive": "bolt", "unlock_first": "", "key_size": "4 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Dovetail clamp", "movement": "extension", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false}, {"name": "Slide lock", "movement": "slide_lock", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false}, {"name": "Housing, up and down", "movement": "gang_elevation", "drive": "screw_lock", "unlock_first": "half a turn", "key_size": "2.5 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Housing, left and right", "movement": "gang_windage", "drive": "screw_lock", "unlock_first": "half a turn", "key_size": "2.5 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Pin screw", "movement": "pin", "drive": "screw_lock", "unlock_first": "a turn", "key_size": "1.5 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Rail block screws", "movement": "first_axis", "drive": "slots", "unlock_first": "half a turn", "key_size": "3 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Second-axis pair", "movement": "second_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Third-axis pair", "movement": "third_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Vial''s end screws", "movement": "vial", "drive": "pair", "unlock_first": "", "key_size": "1.3 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "End-stop screw of the rail", "movement": "stop", "drive": "bolt", "unlock_first": "", "key_size": "", "key_system": "", "hidden": true, "never": true}], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": 60.0, "ratio_sd": 0.0, "places_mm": []}, "note": "", "hand": "either", "index_marks": "", "dovetail_mm": null, "booklet": {"from_m": null, "to_m": null, "strips": [], "read_label": "", "used": ""}}, "mount": {"hole": 1, "detent": 1, "home": "reserve", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": 0.176, "vanes_mm": 11.0, "clearance_mm": null, "torque": "mount bolts: anti-seize"}, "level": {"reference": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": 0.1, "reversed_on": "2026-11-16", "lines": 4}, "rail": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": null, "reversed_on": null, "lines": 4}, "sight": {"per_division_rad": 0.008726646259971648, "settle_s": 8.0, "roll_error_div": null, "reversed_on": null, "lines": 4}, "seat": "flat", "seat_words": "flat above the grip, marked in silver", "yaw_rad": 0.0, "yaw_proved": true, "tolerance_m": 0.05, "string": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": 0.0, "reversed_on": "2026-11-16", "lines": 4}}, "builds": [{"name": "slim carbon, low vanes", "shaft_length_m": 0.724, "shaft_kg_per_m": 0.0168, "shaft_diameter_m": 0.0058, "components": [{"name": "Nock", "mass_kg": 0.00055, "centre_from_throat_m": 0.002}, {"name": "Vanes", "mass_kg": 0.0011, "centre_from_throat_m": 0.048}, {"name": "Collar", "mass_kg": 0.0019, "centre_from_throat_m": 0.718}, {"name": "Point", "mass_kg": 0.0078, "centre_from_throat_m": 0.728}], "measured_mass_kg": null, "spine": "340", "spine_for": {"draw_weight_n": 271.3415185308905, "shaft_length_m": 0.724, "front_kg": 0.0097}, "sessions": [{"readings_mps": [82.01, 82.51, 82.59, 81.86, 82.02, 82.31], "left_out": [], "distance_m": 1.5, "accuracy": 0.005, "day": null, "draw_weight_n": 271.3415185308905, "mass_kg": 0.023513199999999998}]}, {"name": "mid-size, wet days", "shaft_length_m": 0.724, "shaft_kg_per_m": 0.019, "shaft_diameter_m": 0.0066, "components": [{"name": "Nock", "mass_kg": 0.0006, "centre_from_throat_m": 0.002}, {"name": "Vanes", "mass_kg": 0.0013, "centre_from_throat_m": 0.048}, {"name": "Collar", "mass_kg": 0.0019, "centre_from_throat_m": 0.718}, {"name": "Point", "mass_kg": 0.008400000000000001, "centre_from_throat_m": 0.728}], "measured_mass_kg": null, "spine": "300", "spine_for": {"draw_weight_n": 271.3415185308905, "shaft_length_m": 0.724, "front_kg": 0.010300000000000002}, "sessions": []}], "in_use": 0, "eye_to_sight_m": 0.822, "peep": {"way": "along", "square_m": null, "along_m": 0.164, "angle_rad": 0.6719517620178169, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": 0.0032, "eye_to_peep_m": 0.075}, "ranged_from": "eye", "goals": {"home_m": 17.0, "farthest_m": 95.0, "target_size_m": 0.25, "group_size_m": 0.1, "group_at_m": 38.0, "distances_m": [12.0, 17.0, 26.0, 38.0, 47.0, 61.0, 78.0, 95.0], "pin_distances_m": [17.0, 38.0, 61.0], "level_only": false, "slope_up_rad": 0.6108652381980153, "slope_down_rad": 0.6108652381980153, "rules": ""}}', '[]');
INSERT INTO rig_revisions (id, rig_id, number, saved_utc, why, card, happened) VALUES (13, 7, 1, '2026-11-23 00:20:56.321609', 'new on the bench', '{"name": "Gantry bow, 55 lb", "archer": "Ilse Thornby", "occasion": "", "due": null, "bow": {"words": "", "draw_weight_n": null, "nock_to_rest_m": null, "least_mass_per_force": null}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "", "kind": "single_pin_slider", "axes": ["", "", ""], "second_axis_carries_pins": "", "pins": [], "pins_in_line": "", "housing": {"inner_mm": null, "outer_mm": null, "below_pin_mm": null, "pin_room_mm": null}, "slider_travel_mm": null, "home_stop": "", "coarse_steps_mm": [], "extension_mm": [], "holes_mm": [], "scale_division_mm": null, "controls": [], "screws": [], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": null, "ratio_sd": 0.0, "places_mm": []}, "note": "", "hand": "", "index_marks": "", "dovetail_mm": null, "booklet": {"from_m": null, "to_m": null, "strips": [], "read_label": "", "used": ""}}, "mount": {"hole": null, "detent": null, "home": "", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": null, "vanes_mm": null, "clearance_mm": null, "torque": ""}, "level": {"reference": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "rail": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "sight": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "seat": "", "seat_words": "", "yaw_rad": 0.0, "yaw_proved": false, "tolerance_m": null, "string": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}}, "builds": [{"name": "", "shaft_length_m": null, "shaft_kg_per_m": null, "shaft_diameter_m": null, "components": [], "measured_mass_kg": null, "spine": "", "spine_for": null, "sessions": []}], "in_use": 0, "eye_to_sight_m": null, "peep": {"way": "square", "square_m": null, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": null, "eye_to_peep_m": null}, "ranged_from": "eye", "goals": {"home_m": null, "farthest_m": null, "target_size_m": null, "group_size_m": null, "group_at_m": null, "distances_m": [], "pin_distances_m": [], "level_only": false, "slope_up_rad": null, "slope_down_rad": null, "rules": ""}}', '[]');
INSERT INTO rig_revisions (id, rig_id, number, saved_utc, why, card, happened) VALUES (14, 7, 2, '2026-11-23 00:55:56.321609', 'measured on the draw board', '{"name": "Gantry bow, 55 lb", "archer": "Ilse Thornby", "occasion": "Ledge Round", "due": "2026-12-05", "bow": {"words": "compound, 35 in axle to axle", "draw_weight_n": 244.6521888393275, "nock_to_rest_m": 0.688, "least_mass_per_force": 7.28368723555663e-05}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "three pins on a slider, 44 mm housing", "kind": "multi_pin_slider", "axes": ["slots", "pair", "pair"], "second_axis_carries_pins": "yes", "pins": [{"thickness_mm": 0.48, "colour": "", "retractable": false}, {"thickness_mm": 0.48, "colour": "", "retractable": false}, {"thickness_mm": 0.48, "colour": "", "retractable": false}], "pins_in_line": "yes", "housing": {"inner_mm": 44.0, "outer_mm": 52.0, "below_pin_mm": 26.0, "pin_room_mm": 30.0}, "slider_travel_mm": 50.0, "home_stop": "fixed", "coarse_steps_mm": [], "extension_mm": [0.0, 12.0, 24.0, 36.0], "holes_mm": [0.0, 9.5], "scale_division_mm": null, "controls": [{"name": "Elevation wheel", "moves": "elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 50.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Housing, up and down", "moves": "gang_elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 18.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Windage micro", "moves": "windage", "per_click_mm": 0.05, "clicks_per_turn": 20.0, "per_turn_mm": null, "travel_mm": 10.0, "position_mm": null, "clockwise": "", "checked": false}], "screws": [{"name": "Mount bolts, two", "movement": "mount", "drive": "bolt", "unlock_first": "", "key_size": "4 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Dovetail clamp", "movement": "extension", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false}, {"name": "Slide lock", "movement": "slide_lock", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false}, {"name": "Housing, up and down", "movement": "gang_elevation", "drive": "screw_lock", "unlock_first": "half a turn", "key_size": "2.5 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Housing, left and right", "movement": "gang_windage", "drive": "screw_lock", "unlock_first": "half a turn", "key_size": "2.5 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Pin screw", "movement": "pin", "drive": "screw_lock", "unlock_first": "a turn", "key_size": "1.5 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Rail block screws", "movement": "first_axis", "drive": "slots", "unlock_first": "half a turn", "key_size": "3 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Second-axis pair", "movement": "second_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Third-axis pair", "movement": "third_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Vial''s end screws", "movement": "vial", "drive": "pair", "unlock_first": "", "key_size": "1.3 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "End-stop screw of the rail", "movement": "stop", "drive": "bolt", "unlock_first": "", "key_size": "", "key_system": "", "hidden": true, "never": true}], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": 60.0, "ratio_sd": 0.0, "places_mm": []}, "note": "", "hand": "either", "index_marks": "", "dovetail_mm": null, "booklet": {"from_m": null, "to_m": null, "strips": [], "read_label": "", "used": ""}}, "mount": {"hole": null, "detent": null, "home": "", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": null, "vanes_mm": null, "clearance_mm": null, "torque": ""}, "level": {"reference": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": 0.1, "reversed_on": "2026-11-16", "lines": 4}, "rail": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": null, "reversed_on": null, "lines": 4}, "sight": {"per_division_rad": 0.008726646259971648, "settle_s": 8.0, "roll_error_div": null, "reversed_on": null, "lines": 4}, "seat": "flat", "seat_words": "flat above the grip, marked in silver", "yaw_rad": 0.0, "yaw_proved": true, "tolerance_m": 0.05, "string": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": 0.0, "reversed_on": "2026-11-16", "lines": 4}}, "builds": [{"name": "slim carbon", "shaft_length_m": 0.716, "shaft_kg_per_m": 0.0164, "shaft_diameter_m": 0.0058, "components": [{"name": "Nock", "mass_kg": 0.00055, "centre_from_throat_m": 0.002}, {"name": "Vanes", "mass_kg": 0.0011, "centre_from_throat_m": 0.048}, {"name": "Collar", "mass_kg": 0.0017, "centre_from_throat_m": 0.71}, {"name": "Point", "mass_kg": 0.0078, "centre_from_throat_m": 0.72}], "measured_mass_kg": null, "spine": "350", "spine_for": {"draw_weight_n": 244.6521888393275, "shaft_length_m": 0.716, "front_kg": 0.0095}, "sessions": [{"readings_mps": [78.8, 78.87, 79.02, 78.72, 78.58, 78.88], "left_out": [], "distance_m": 1.5, "accuracy": 0.005, "day": null, "draw_weight_n": 244.6521888393275, "mass_kg": 0.0228924}]}], "in_use": 0, "eye_to_sight_m": 0.808, "peep": {"way": "square", "square_m": 0.101, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": 0.0036, "eye_to_peep_m": null}, "ranged_from": "eye", "goals": {"home_m": 17.0, "farthest_m": 95.0, "target_size_m": 0.25, "group_size_m": 0.11, "group_at_m": 38.0, "distances_m": [12.0, 17.0, 26.0, 38.0, 47.0, 61.0, 78.0, 95.0], "pin_distances_m": [17.0, 26.0, 38.0], "level_only": false, "slope_up_rad": 0.6108652381980153, "slope_down_rad": 0.6108652381980153, "rules": ""}}', '[]');
INSERT INTO observations (id, rig_id, line, revision, entered_utc, ranged_m, mark_mm, up_m, arrows, left_out, removed, key, pin, reason) VALUES (1, 1, 1, 2, '2026-11-21 00:20:56.321609', 17.0, 22.2, 0.01, 6, 0, 0, '', 0, '');
INSERT INTO observations (id, rig_id, line, revision, entered_utc, ranged_m, mark_mm, up_m, arrows, left_out, removed, key, pin, reason) VALUES (2, 1, 2, 2, '2026-11-21 00:38:56.321609', 38.0, 31.8, -0.035, 6, 0, 0, '', 0, '');
INSERT INTO observations (id, rig_id, line, revision, entered_utc, ranged_m, mark_mm, up_m, arrows, left_out, removed, key, pin, reason) VALUES (3, 1, 3, 2, '2026-11-21 00:56:56.321609', 61.0, 46.3, -0.01, 6, 0, 0, '', 0, '');
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (1, 1, 'prepare', 'rest_centred', 2, '2026-11-20 01:20:56.321609', 0.0003, '', '[]', '', '', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (2, 1, 'prepare', 'arrow_square', 2, '2026-11-20 01:23:56.321609', 0.0015, '', '[]', '', '', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (3, 1, 'prepare', 'nock_fit', 2, '2026-11-20 01:26:56.321609', NULL, 'free', '[]', '', '', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (4, 1, 'prepare', 'rest_up', 2, '2026-11-20 01:29:56.321609', NULL, 'clear', '[]', '', '', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (5, 1, 'prepare', 'd_loop', 2, '2026-11-20 01:32:56.321609', NULL, 'good', '[]', '', '', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (6, 1, 'prepare', 'string_shots', 2, '2026-11-20 01:35:56.321609', 240.0, '', '[]', '', '', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (7, 1, 'prepare', 'peep_rotation', 2, '2026-11-20 01:38:56.321609', NULL, 'straight', '[]', '', '', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (188, 7, 'mount', 'clear_top', 2, '2026-11-23 04:04:56.321609', NULL, 'done', '[]', '', '', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (189, 7, 'mount', 'clear_bottom', 2, '2026-11-23 04:08:56.321609', NULL, 'done', '[]', '', '', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (190, 7, 'level', 'plumb', 2, '2026-11-23 05:20:56.321609', NULL, '', '[[0.1, 0.0]]', '', '', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (191, 7, 'sight_in', 'step:stop_up', 2, '2026-11-24 00:20:56.321609', NULL, 'done', '[]', '', 'Ilse Thornby', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (192, 7, 'sight_in', 'step:stack', 2, '2026-11-24 00:24:56.321609', NULL, 'done', '[]', '', 'Ilse Thornby', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (193, 7, 'sight_in', 'step:face', 2, '2026-11-24 00:28:56.321609', NULL, 'done', '[]', '', 'Ilse Thornby', 0);
INSERT INTO bench_entries (id, rig_id, station, key, revision, entered_utc, number, choice, points, after, note, removed) VALUES (194, 1, 'sight_in', 'choose:dialled', 2, '2026-11-20 06:20:56.321609', NULL, 'near', '[]', '', '', 0);
INSERT INTO photos (id, rig_id, added_utc, width, height, jpeg) VALUES (1, 1, '2026-11-20 04:20:56.321609', 640, 420, X'FFD8FFE000104A46494600010100000100010000FFDB0043');
INSERT INTO photos (id, rig_id, added_utc, width, height, jpeg) VALUES (24, 7, '2026-11-23 04:26:56.321609', 640, 420, X'FFD8FFE000104A46494600010100000100010000FFDB0043');
INSERT INTO photos (id, rig_id, added_utc, width, height, jpeg) VALUES (25, 7, '2026-11-23 04:28:56.321609', 640, 420, X'FFD8FFE000104A46494600010100000100010000FFDB0043');
INSERT INTO witness_marks (id, rig_id, line, revision, entered_utc, joint, place, photo_id, removed) VALUES (1, 1, 1, 2, '2026-11-20 04:20:56.321609', 'mount on the riser', 'white line across mount and riser, behind the upper bolt', 1, 0);
INSERT INTO witness_marks (id, rig_id, line, revision, entered_utc, joint, place, photo_id, removed) VALUES (24, 7, 4, 2, '2026-11-23 04:26:56.321609', 'housing on its post', 'two lines, front and side', 24, 0);
INSERT INTO witness_marks (id, rig_id, line, revision, entered_utc, joint, place, photo_id, removed) VALUES (25, 7, 5, 2, '2026-11-23 04:28:56.321609', 'rest', 'silver line over clamp and bracket', 25, 0);
INSERT INTO sight_models (id, model, number, saved_utc, sight, removed) VALUES (1, 1, 1, '2026-11-20 08:00:00.000000', '{"name": "single-pin slider, generic", "kind": "single_pin_slider", "axes": ["slots", "pair", "pair"], "second_axis_carries_pins": "yes", "pins": [{"thickness_mm": 0.48, "colour": "", "retractable": false}], "pins_in_line": "yes", "housing": {"inner_mm": 41.0, "outer_mm": 48.0, "below_pin_mm": 24.0, "pin_room_mm": null}, "slider_travel_mm": 45.0, "home_stop": "fixed", "coarse_steps_mm": [], "extension_mm": [0.0, 12.0, 24.0, 36.0], "holes_mm": [0.0, 9.5], "scale_division_mm": null, "controls": [{"name": "Elevation wheel", "moves": "elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 45.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Windage micro", "moves": "windage", "per_click_mm": 0.05, "clicks_per_turn": 20.0, "per_turn_mm": null, "travel_mm": 10.0, "position_mm": null, "clockwise": "", "checked": false}], "screws": [{"name": "Mount bolts, two", "movement": "mount", "drive": "bolt", "unlock_first": "", "key_size": "4 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Dovetail clamp", "movement": "extension", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false}, {"name": "Slide lock", "movement": "slide_lock", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false}, {"name": "Rail block screws", "movement": "first_axis", "drive": "slots", "unlock_first": "half a turn", "key_size": "3 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Second-axis pair", "movement": "second_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Third-axis pair", "movement": "third_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "Vial''s end screws", "movement": "vial", "drive": "pair", "unlock_first": "", "key_size": "1.3 mm", "key_system": "metric", "hidden": false, "never": false}, {"name": "End-stop screw of the rail", "movement": "stop", "drive": "bolt", "unlock_first": "", "key_size": "", "key_system": "", "hidden": true, "never": true}], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": 60.0, "ratio_sd": 0.0, "places_mm": []}, "note": "", "hand": "either", "index_marks": "", "dovetail_mm": null, "booklet": {"from_m": null, "to_m": null, "strips": [], "read_label": "", "used": ""}}', 0);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (1, 1, 2, '2026-11-20 05:22:56.321609', 'first', 'rail_vial', 0.0, 2.2, 0.5, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (2, 1, 2, '2026-11-20 05:24:56.321609', 'first', 'rail_vial', 0.0, 2.6, 0.6, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (3, 1, 2, '2026-11-20 05:26:56.321609', 'first', 'rail_vial', 0.0, 2.5, 1.1, 0.25, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (4, 1, 2, '2026-11-20 05:28:56.321609', 'first', 'rail_vial', 0.0, 1.3, 0.0, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (5, 1, 2, '2026-11-20 05:30:56.321609', 'first', 'rail_vial', 0.0, 0.5, 0.6, 0.6666666666666666, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (6, 1, 2, '2026-11-20 05:32:56.321609', 'first', 'rail_vial', 0.0, 0.3, 0.5, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (7, 1, 2, '2026-11-20 05:34:56.321609', 'second', 'to_string', 0.0, 0.8, -0.1, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (8, 1, 2, '2026-11-20 05:36:56.321609', 'second', 'to_string', 0.0, 0.1, -0.9, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (148, 7, 2, '2026-11-23 06:04:56.321609', 'third', 'board_string', -0.5934119456780721, 0.1, 0.4, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (149, 7, 2, '2026-11-23 06:06:56.321609', 'third', 'board_string', -0.5934119456780721, -0.3, -0.2, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (150, 7, 2, '2026-11-23 06:08:56.321609', 'third', 'board_string', -0.5934119456780721, 0.3, 0.4, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (151, 7, 2, '2026-11-23 06:10:56.321609', 'first', 'rail_vial', 0.0, -0.1, 0.1, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (152, 7, 2, '2026-11-23 06:12:56.321609', 'first', 'rail_vial', 0.0, 0.0, 0.2, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (153, 7, 2, '2026-11-23 06:14:56.321609', 'second', 'to_string', 0.0, 0.5, 0.4, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (154, 7, 2, '2026-11-23 06:16:56.321609', 'third', 'board_string', -0.5934119456780721, -0.1, 0.0, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO level_readings (id, rig_id, revision, entered_utc, axis, method, pitch_rad, vial_div, reference_div, turns, locked, who, note, photo_id, undoes) VALUES (155, 7, 2, '2026-11-23 06:18:56.321609', 'second', 'to_string', 0.0, 1.1, 1.0, NULL, 1, 'bench', '', NULL, NULL);
INSERT INTO range_sessions (id, rig_id, key, entered_utc, number, revision, place, light, who, note, build, counts, crosswind_mps, temperature_c) VALUES (1, 7, 'demo', '2026-11-24 00:20:56.321609', 1, 2, 'lower ledge', 'overcast', 'Ilse Thornby', '', 'slim carbon', 'full', 0.8, 9.0);
INSERT INTO range_ends (id, rig_id, key, entered_utc, place, session, revision, pin, ranged_m, dial_mm, note, left_out, removed, asked) VALUES (1, 7, 'demo-0032', '2026-11-24 00:32:56.321609', 1, 1, 2, 0, 5.0, 0.0, '', 0, 0, 0);
INSERT INTO range_ends (id, rig_id, key, entered_utc, place, session, revision, pin, ranged_m, dial_mm, note, left_out, removed, asked) VALUES (2, 7, 'demo-0040', '2026-11-24 00:40:56.321609', 4, 1, 2, 0, 17.0, 0.0, '', 0, 0, 0);
INSERT INTO range_ends (id, rig_id, key, entered_utc, place, session, revision, pin, ranged_m, dial_mm, note, left_out, removed, asked) VALUES (3, 7, 'demo-0052', '2026-11-24 00:52:56.321609', 7, 1, 2, 1, 26.0, 0.0, '', 0, 0, 0);
INSERT INTO range_ends (id, rig_id, key, entered_utc, place, session, revision, pin, ranged_m, dial_mm, note, left_out, removed, asked) VALUES (4, 7, 'demo-0104', '2026-11-24 01:04:56.321609', 10, 1, 2, 2, 38.0, 0.0, '', 0, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (1, 7, 'demo-0032-0', '2026-11-24 00:32:56.321609', 'demo-0032', -0.021, -0.043, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (2, 7, 'demo-0032-1', '2026-11-24 00:32:56.321609', 'demo-0032', -0.023, -0.045, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (3, 7, 'demo-0040-0', '2026-11-24 00:40:56.321609', 'demo-0040', -0.007, -0.017, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (4, 7, 'demo-0040-1', '2026-11-24 00:40:56.321609', 'demo-0040', 0.005, -0.032, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (5, 7, 'demo-0040-2', '2026-11-24 00:40:56.321609', 'demo-0040', -0.005, -0.014, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (6, 7, 'demo-0040-3', '2026-11-24 00:40:56.321609', 'demo-0040', -0.016, -0.026, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (7, 7, 'demo-0040-4', '2026-11-24 00:40:56.321609', 'demo-0040', 0.017, -0.012, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (14, 7, 'demo-0052-5', '2026-11-24 00:52:56.321609', 'demo-0052', 0.012, -0.007, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (15, 7, 'demo-0104-0', '2026-11-24 01:04:56.321609', 'demo-0104', 0.002, 0.008, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (16, 7, 'demo-0104-1', '2026-11-24 01:04:56.321609', 'demo-0104', -0.017, 0.009, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (17, 7, 'demo-0104-2', '2026-11-24 01:04:56.321609', 'demo-0104', -0.026, 0.043, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (18, 7, 'demo-0104-3', '2026-11-24 01:04:56.321609', 'demo-0104', 0.049, -0.029, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (19, 7, 'demo-0104-4', '2026-11-24 01:04:56.321609', 'demo-0104', -0.024, 0.019, 0, 0);
INSERT INTO range_shots (id, rig_id, key, entered_utc, end_key, right_m, up_m, called_bad, removed) VALUES (20, 7, 'demo-0104-5', '2026-11-24 01:04:56.321609', 'demo-0104', 0.35300000000000004, -0.20199999999999999, 0, 0);
INSERT INTO range_moves (id, rig_id, key, entered_utc, place, revision, drive, moves, unit, amount, pin, placed, removed) VALUES (1, 7, '2.1.2.move.0-0', '2026-11-24 00:36:56.321609', 2, 2, 'Housing, left and right', 'gang_windage', 'mm', -3.5500000000000003, NULL, 0, 0);
INSERT INTO range_moves (id, rig_id, key, entered_utc, place, revision, drive, moves, unit, amount, pin, placed, removed) VALUES (2, 7, '2.1.2.move.0-1', '2026-11-24 00:36:56.321609', 3, 2, 'Housing, up and down', 'gang_elevation', 'mm', -3.3000000000000003, NULL, 0, 0);
INSERT INTO range_moves (id, rig_id, key, entered_utc, place, revision, drive, moves, unit, amount, pin, placed, removed) VALUES (3, 7, '2.4.8.move.0-0', '2026-11-24 00:44:56.321609', 5, 2, 'Housing, up and down', 'gang_elevation', 'mm', -1.0, NULL, 0, 0);
INSERT INTO range_moves (id, rig_id, key, entered_utc, place, revision, drive, moves, unit, amount, pin, placed, removed) VALUES (4, 7, '2.5.8.place.1-0', '2026-11-24 00:48:56.321609', 6, 2, 'pin', 'pin', 'mm', 0.0, 1, 1, 0);
INSERT INTO range_moves (id, rig_id, key, entered_utc, place, revision, drive, moves, unit, amount, pin, placed, removed) VALUES (5, 7, '2.7.14.move.1-0', '2026-11-24 00:56:56.321609', 8, 2, 'Pin screw', 'pin', 'mm', -0.6000000000000001, 1, 0, 0);
INSERT INTO range_moves (id, rig_id, key, entered_utc, place, revision, drive, moves, unit, amount, pin, placed, removed) VALUES (6, 7, '2.8.14.place.2-0', '2026-11-24 01:00:56.321609', 9, 2, 'pin', 'pin', 'mm', 0.0, 2, 1, 0);
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
CREATE INDEX ix_level_readings_rig_id ON level_readings (rig_id);
CREATE TRIGGER level_readings_no_update BEFORE UPDATE ON level_readings BEGIN SELECT RAISE(ABORT, 'level_readings is a record: add, never change'); END;
CREATE TRIGGER level_readings_no_delete BEFORE DELETE ON level_readings BEGIN SELECT RAISE(ABORT, 'level_readings is a record: add, never change'); END;
CREATE INDEX ix_range_sessions_rig_id ON range_sessions (rig_id);
CREATE TRIGGER range_sessions_no_update BEFORE UPDATE ON range_sessions BEGIN SELECT RAISE(ABORT, 'range_sessions is a record: add, never change'); END;
CREATE TRIGGER range_sessions_no_delete BEFORE DELETE ON range_sessions BEGIN SELECT RAISE(ABORT, 'range_sessions is a record: add, never change'); END;
CREATE INDEX ix_range_ends_rig_id ON range_ends (rig_id);
CREATE TRIGGER range_ends_no_update BEFORE UPDATE ON range_ends BEGIN SELECT RAISE(ABORT, 'range_ends is a record: add, never change'); END;
CREATE TRIGGER range_ends_no_delete BEFORE DELETE ON range_ends BEGIN SELECT RAISE(ABORT, 'range_ends is a record: add, never change'); END;
CREATE INDEX ix_range_shots_rig_id ON range_shots (rig_id);
CREATE TRIGGER range_shots_no_update BEFORE UPDATE ON range_shots BEGIN SELECT RAISE(ABORT, 'range_shots is a record: add, never change'); END;
CREATE TRIGGER range_shots_no_delete BEFORE DELETE ON range_shots BEGIN SELECT RAISE(ABORT, 'range_shots is a record: add, never change'); END;
CREATE INDEX ix_range_moves_rig_id ON range_moves (rig_id);
CREATE TRIGGER range_moves_no_update BEFORE UPDATE ON range_moves BEGIN SELECT RAISE(ABORT, 'range_moves is a record: add, never change'); END;
CREATE TRIGGER range_moves_no_delete BEFORE DELETE ON range_moves BEGIN SELECT RAISE(ABORT, 'range_moves is a record: add, never change'); END;
CREATE INDEX ix_printed_tapes_rig_id ON printed_tapes (rig_id);
CREATE TRIGGER printed_tapes_no_update BEFORE UPDATE ON printed_tapes BEGIN SELECT RAISE(ABORT, 'printed_tapes is a record: add, never change'); END;
CREATE TRIGGER printed_tapes_no_delete BEFORE DELETE ON printed_tapes BEGIN SELECT RAISE(ABORT, 'printed_tapes is a record: add, never change'); END;
COMMIT;
