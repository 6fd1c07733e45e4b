BEGIN TRANSACTION;
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
INSERT INTO "alembic_version" VALUES('0015');
CREATE TABLE archer_links (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	secret VARCHAR DEFAULT '' NOT NULL, 
	made_by VARCHAR DEFAULT '' NOT NULL, 
	made_utc DATETIME NOT NULL, 
	until_utc DATETIME NOT NULL, 
	ended_utc DATETIME, 
	opened_utc DATETIME, 
	CONSTRAINT pk_archer_links PRIMARY KEY (id), 
	CONSTRAINT fk_archer_links_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
CREATE TABLE authors (
	id INTEGER NOT NULL, 
	log VARCHAR NOT NULL, 
	row_id INTEGER NOT NULL, 
	rig_id INTEGER, 
	who VARCHAR DEFAULT '' NOT NULL, 
	came_by VARCHAR DEFAULT '' NOT NULL, 
	written_utc DATETIME NOT NULL, 
	CONSTRAINT pk_authors PRIMARY KEY (id), 
	CONSTRAINT uq_authors_log UNIQUE (log, row_id)
);
INSERT INTO "authors" VALUES(1,'rig_revisions',1,1,'','','2026-11-27 22:46:20.860746');
INSERT INTO "authors" VALUES(2,'rig_revisions',2,2,'','','2026-11-27 22:46:20.885429');
INSERT INTO "authors" VALUES(3,'rig_revisions',3,2,'','','2026-11-27 22:46:20.948468');
INSERT INTO "authors" VALUES(4,'photos',1,2,'','','2026-11-27 22:46:21.027141');
INSERT INTO "authors" VALUES(5,'witness_marks',1,2,'','','2026-11-27 22:46:21.027141');
INSERT INTO "authors" VALUES(6,'observations',1,2,'','','2026-11-27 22:46:21.286794');
INSERT INTO "authors" VALUES(7,'observations',2,2,'','','2026-11-27 22:46:21.302094');
INSERT INTO "authors" VALUES(8,'observations',3,2,'','','2026-11-27 22:46:21.316364');
INSERT INTO "authors" VALUES(9,'observations',4,2,'','','2026-11-27 22:46:21.334806');
INSERT INTO "authors" VALUES(10,'range_ends',1,2,'','','2026-11-27 22:46:21.364549');
INSERT INTO "authors" VALUES(11,'range_sessions',1,2,'','','2026-11-27 22:46:21.364549');
INSERT INTO "authors" VALUES(12,'range_shots',1,2,'','','2026-11-27 22:46:21.364549');
INSERT INTO "authors" VALUES(13,'range_shots',2,2,'','','2026-11-27 22:46:21.364549');
INSERT INTO "authors" VALUES(14,'range_shots',3,2,'','','2026-11-27 22:46:21.364549');
INSERT INTO "authors" VALUES(15,'range_shots',4,2,'','','2026-11-27 22:46:21.364549');
INSERT INTO "authors" VALUES(16,'range_shots',5,2,'','','2026-11-27 22:46:21.364549');
INSERT INTO "authors" VALUES(17,'range_shots',6,2,'','','2026-11-27 22:46:21.364549');
INSERT INTO "authors" VALUES(18,'printed_tapes',1,2,'','','2026-11-27 22:46:22.193890');
INSERT INTO "authors" VALUES(19,'bench_entries',1,2,'','','2026-11-27 22:46:22.409840');
INSERT INTO "authors" VALUES(20,'proof_lines',1,2,'','','2026-11-27 22:46:22.603857');
INSERT INTO "authors" VALUES(21,'proof_lines',2,2,'','','2026-11-27 22:46:22.723521');
INSERT INTO "authors" VALUES(22,'proof_lines',3,2,'','','2026-11-27 22:46:22.827852');
INSERT INTO "authors" VALUES(23,'devices',1,NULL,'','','2026-11-27 22:46:22.859215');
INSERT INTO "authors" VALUES(24,'taken_readings',1,2,'','','2026-11-27 22:46:22.902409');
INSERT INTO "authors" VALUES(25,'people',1,NULL,'','','2026-11-27 22:46:23.615479');
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
INSERT INTO "bench_entries" VALUES(1,2,'prove','tape',2,'2026-11-24 12:11:00.000000',NULL,'strip 1.0','[]','','',0);
CREATE TABLE busy_times (
	id INTEGER NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	person VARCHAR DEFAULT '' NOT NULL, 
	calendar VARCHAR DEFAULT '' NOT NULL, 
	spans JSON NOT NULL, 
	CONSTRAINT pk_busy_times PRIMARY KEY (id)
);
CREATE TABLE device_sightings (
	device INTEGER NOT NULL, 
	seen_utc DATETIME NOT NULL, 
	CONSTRAINT pk_device_sightings PRIMARY KEY (device)
);
INSERT INTO "device_sightings" VALUES(1,'2026-11-24 12:16:00.000000');
CREATE TABLE devices (
	id INTEGER NOT NULL, 
	device INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	name VARCHAR NOT NULL, 
	kind VARCHAR NOT NULL, 
	host VARCHAR NOT NULL, 
	port INTEGER NOT NULL, 
	removed BOOLEAN NOT NULL, 
	CONSTRAINT pk_devices PRIMARY KEY (id), 
	CONSTRAINT uq_devices_device UNIQUE (device, number)
);
INSERT INTO "devices" VALUES(1,1,1,'2026-11-24 12:15:00.000000','bench scale','scale','127.0.0.1',7002,0);
CREATE TABLE handover_cards (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	revision INTEGER NOT NULL, 
	entered_utc DATETIME NOT NULL, 
	signed_by VARCHAR DEFAULT '' NOT NULL, 
	note VARCHAR DEFAULT '' NOT NULL, 
	content JSON NOT NULL, 
	CONSTRAINT pk_handover_cards PRIMARY KEY (id), 
	CONSTRAINT fk_handover_cards_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id), 
	CONSTRAINT uq_handover_cards_rig_id UNIQUE (rig_id, number)
);
CREATE TABLE instruments (
	id INTEGER NOT NULL, 
	instrument INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	record JSON NOT NULL, 
	removed BOOLEAN NOT NULL, uid VARCHAR DEFAULT '' NOT NULL, 
	CONSTRAINT pk_instruments PRIMARY KEY (id), 
	CONSTRAINT uq_instruments_instrument UNIQUE (instrument, number)
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
	undoes INTEGER, vial_end INTEGER DEFAULT '0' NOT NULL, seat VARCHAR DEFAULT '' NOT NULL, reseated BOOLEAN DEFAULT '0' NOT NULL, turn BOOLEAN DEFAULT '0' NOT NULL, distance_m FLOAT, right_m FLOAT, arrows INTEGER, "key" VARCHAR DEFAULT '' NOT NULL, 
	CONSTRAINT pk_level_readings PRIMARY KEY (id), 
	CONSTRAINT fk_level_readings_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id), 
	CONSTRAINT fk_level_readings_photo_id_photos FOREIGN KEY(photo_id) REFERENCES photos (id)
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
	"key" VARCHAR NOT NULL, pin INTEGER DEFAULT '0' NOT NULL, reason VARCHAR DEFAULT '' NOT NULL, ruler VARCHAR DEFAULT '' NOT NULL, from_m FLOAT, reads VARCHAR DEFAULT '' NOT NULL, reading_sd_mm FLOAT, laid_mm FLOAT, 
	CONSTRAINT pk_observations PRIMARY KEY (id), 
	CONSTRAINT fk_observations_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
INSERT INTO "observations" VALUES(1,2,1,2,'2026-11-24 12:05:00.000000',17.0,20.0,0.0,6,0,0,'',0,'','',NULL,'',NULL,NULL);
INSERT INTO "observations" VALUES(2,2,2,2,'2026-11-24 12:06:00.000000',38.0,31.0,0.0,6,0,0,'',0,'','',NULL,'',NULL,NULL);
INSERT INTO "observations" VALUES(3,2,3,2,'2026-11-24 12:07:00.000000',61.0,45.7,0.0,6,0,0,'',0,'','',NULL,'',NULL,NULL);
INSERT INTO "observations" VALUES(4,2,4,2,'2026-11-24 12:08:00.000000',78.0,57.4,0.0,6,0,0,'',0,'','',NULL,'',NULL,NULL);
CREATE TABLE people (
	id INTEGER NOT NULL, 
	person INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	name VARCHAR DEFAULT '' NOT NULL, 
	role VARCHAR DEFAULT '' NOT NULL, 
	pin_hash VARCHAR DEFAULT '' NOT NULL, 
	removed BOOLEAN NOT NULL, 
	CONSTRAINT pk_people PRIMARY KEY (id), 
	CONSTRAINT uq_people_person UNIQUE (person, number)
);
INSERT INTO "people" VALUES(1,1,1,'2026-11-24 12:18:00.000000','Reed','technician','$argon2id$v=19$m=65536,t=3,p=4$IclCVO4k/F5QSr9YfdpY8g$c+gj8jLUe+glMFfa3RlZRvkDM73qlHS5u0ekyFYtEiA',0);
CREATE TABLE photos (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	added_utc DATETIME NOT NULL, 
	width INTEGER NOT NULL, 
	height INTEGER NOT NULL, 
	jpeg BLOB NOT NULL, sha256 VARCHAR DEFAULT '' NOT NULL, 
	CONSTRAINT pk_photos PRIMARY KEY (id), 
	CONSTRAINT fk_photos_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
INSERT INTO "photos" VALUES(1,2,'2026-11-24 12:04:00.000000',8,6,X'FFD8FFE000104A46494600010100000100010000FFDB0043000604040504040605050506060607090E0909080809120D0D0A0E1512161615121414171A211C17181F1914141D271D1F2223252525161C292C28242B21242524FFDB00430106060609080911090911241814182424242424242424242424242424242424242424242424242424242424242424242424242424242424242424242424242424FFC00011080006000803012200021101031101FFC4001F0000010501010101010100000000000000000102030405060708090A0BFFC400B5100002010303020403050504040000017D01020300041105122131410613516107227114328191A1082342B1C11552D1F02433627282090A161718191A25262728292A3435363738393A434445464748494A535455565758595A636465666768696A737475767778797A838485868788898A92939495969798999AA2A3A4A5A6A7A8A9AAB2B3B4B5B6B7B8B9BAC2C3C4C5C6C7C8C9CAD2D3D4D5D6D7D8D9DAE1E2E3E4E5E6E7E8E9EAF1F2F3F4F5F6F7F8F9FAFFC4001F0100030101010101010101010000000000000102030405060708090A0BFFC400B51100020102040403040705040400010277000102031104052131061241510761711322328108144291A1B1C109233352F0156272D10A162434E125F11718191A262728292A35363738393A434445464748494A535455565758595A636465666768696A737475767778797A82838485868788898A92939495969798999AA2A3A4A5A6A7A8A9AAB2B3B4B5B6B7B8B9BAC2C3C4C5C6C7C8C9CAD2D3D4D5D6D7D8D9DAE2E3E4E5E6E7E8E9EAF2F3F4F5F6F7F8F9FAFFDA000C03010002110311003F00E428A28AF973D93FFFD9','7dee5f05eb817180b3ba6f3e4817f07ff21d5140f0a80296e3d6d22a3aa07857');
CREATE TABLE printed_tapes (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	revision INTEGER NOT NULL, 
	printed_utc DATETIME NOT NULL, 
	sheet JSON NOT NULL, number INTEGER DEFAULT '0' NOT NULL, 
	CONSTRAINT pk_printed_tapes PRIMARY KEY (id), 
	CONSTRAINT fk_printed_tapes_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
INSERT INTO "printed_tapes" VALUES(1,2,2,'2026-11-24 12:10:00.000000','{"strips": [{"name": "fitted", "edges": [{"ticks": [{"count": 17, "position_mm": -10.963196293491295, "rank": 1, "label": null, "beyond": false}, {"count": 20, "position_mm": -9.753511926478886, "rank": 10, "label": "20", "beyond": false}, {"count": 22, "position_mm": -8.839554394996382, "rank": 1, "label": null, "beyond": false}, {"count": 23, "position_mm": -8.357942344599037, "rank": 1, "label": null, "beyond": false}, {"count": 24, "position_mm": -7.862336548192337, "rank": 1, "label": null, "beyond": false}, {"count": 25, "position_mm": -7.354204521441684, "rank": 5, "label": null, "beyond": false}, {"count": 26, "position_mm": -6.834794042120617, "rank": 1, "label": null, "beyond": false}, {"count": 27, "position_mm": -6.305172636544217, "rank": 1, "label": null, "beyond": false}, {"count": 28, "position_mm": -5.766258844993281, "rank": 1, "label": null, "beyond": false}, {"count": 29, "position_mm": -5.218847196017284, "rank": 1, "label": null, "beyond": false}, {"count": 30, "position_mm": -4.663628318538866, "rank": 10, "label": "30", "beyond": false}, {"count": 31, "position_mm": -4.10120526141683, "rank": 1, "label": null, "beyond": false}, {"count": 32, "position_mm": -3.5321068293827906, "rank": 1, "label": null, "beyond": false}, {"count": 33, "position_mm": -2.95679855291338, "rank": 1, "label": null, "beyond": false}, {"count": 34, "position_mm": -2.3756917677092453, "rank": 1, "label": null, "beyond": false}, {"count": 35, "position_mm": -1.7891511732125416, "rank": 5, "label": null, "beyond": false}, {"count": 36, "position_mm": -1.1975011593253342, "rank": 1, "label": null, "beyond": false}, {"count": 37, "position_mm": -0.6010311293225392, "rank": 1, "label": null, "beyond": false}, {"count": 38, "position_mm": 3.134914550173562e-11, "rank": 1, "label": null, "beyond": false}, {"count": 39, "position_mm": 0.6053599765205036, "rank": 1, "label": null, "beyond": false}, {"count": 40, "position_mm": 1.2148399523761455, "rank": 10, "label": "40", "beyond": false}, {"count": 41, "position_mm": 1.8282516919886653, "rank": 1, "label": null, "beyond": false}, {"count": 42, "position_mm": 2.4454251709567636, "rank": 1, "label": null, "beyond": false}, {"count": 43, "position_mm": 3.066206503960405, "rank": 1, "label": null, "beyond": false}, {"count": 44, "position_mm": 3.690456150101536, "rank": 1, "label": null, "beyond": false}, {"count": 45, "position_mm": 4.318047353324278, "rank": 5, "label": null, "beyond": false}, {"count": 46, "position_mm": 4.948864782768457, "rank": 1, "label": null, "beyond": false}, {"count": 47, "position_mm": 5.582803343790413, "rank": 1, "label": null, "beyond": false}, {"count": 48, "position_mm": 6.219767135181211, "rank": 1, "label": null, "beyond": false}, {"count": 49, "position_mm": 6.859668532041145, "rank": 1, "label": null, "beyond": false}, {"count": 50, "position_mm": 7.502427377003631, "rank": 10, "label": "50", "beyond": false}, {"count": 51, "position_mm": 8.147970265172983, "rank": 1, "label": null, "beyond": false}, {"count": 52, "position_mm": 8.796229910357834, "rank": 1, "label": null, "beyond": false}, {"count": 53, "position_mm": 9.447144582027196, "rank": 1, "label": null, "beyond": false}, {"count": 54, "position_mm": 10.100657603959878, "rank": 1, "label": null, "beyond": false}, {"count": 55, "position_mm": 10.756716906851313, "rank": 5, "label": null, "beyond": false}, {"count": 56, "position_mm": 11.415274628232066, "rank": 1, "label": null, "beyond": false}, {"count": 57, "position_mm": 12.07628675397039, "rank": 1, "label": null, "beyond": false}, {"count": 58, "position_mm": 12.739712796411741, "rank": 1, "label": null, "beyond": false}, {"count": 59, "position_mm": 13.405515504868934, "rank": 1, "label": null, "beyond": false}, {"count": 60, "position_mm": 14.073660604740244, "rank": 10, "label": "60", "beyond": false}, {"count": 61, "position_mm": 14.744116562015531, "rank": 1, "label": null, "beyond": false}, {"count": 62, "position_mm": 15.416854370341891, "rank": 1, "label": null, "beyond": false}, {"count": 63, "position_mm": 16.09184735817576, "rank": 1, "label": null, "beyond": false}, {"count": 64, "position_mm": 16.76907101385336, "rank": 1, "label": null, "beyond": false}, {"count": 65, "position_mm": 17.448502826674964, "rank": 5, "label": null, "beyond": false}, {"count": 66, "position_mm": 18.130122142326098, "rank": 1, "label": null, "beyond": false}, {"count": 67, "position_mm": 18.813910031157608, "rank": 1, "label": null, "beyond": false}, {"count": 68, "position_mm": 19.499849168017054, "rank": 1, "label": null, "beyond": false}, {"count": 69, "position_mm": 20.187923722475073, "rank": 1, "label": null, "beyond": false}, {"count": 70, "position_mm": 20.878119258419826, "rank": 10, "label": "70", "beyond": false}, {"count": 71, "position_mm": 21.570422642107655, "rank": 1, "label": null, "beyond": false}, {"count": 72, "position_mm": 22.26482195785866, "rank": 1, "label": null, "beyond": false}, {"count": 73, "position_mm": 22.96130643067257, "rank": 1, "label": null, "beyond": false}, {"count": 74, "position_mm": 23.65986635511933, "rank": 1, "label": null, "beyond": false}, {"count": 75, "position_mm": 24.360493029925866, "rank": 5, "label": null, "beyond": false}, {"count": 76, "position_mm": 25.063178697741076, "rank": 1, "label": null, "beyond": false}, {"count": 77, "position_mm": 25.767916489614517, "rank": 1, "label": null, "beyond": false}, {"count": 78, "position_mm": 26.474700373771494, "rank": 1, "label": "78", "beyond": false}], "unit_m": 1.0}], "home": ""}], "style": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "copies": 1, "paper": "A4", "measured_bar_mm": 100.0, "other_edge": ""}, "heading": ["a tape"], "waste": ["a tape", "for the tests"], "home_m": 37.9999984858059, "home_mark_mm": 19.972387356580615}',1);
CREATE TABLE proof_lines (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	revision INTEGER NOT NULL, 
	entered_utc DATETIME NOT NULL, 
	day VARCHAR NOT NULL, 
	ranged_m FLOAT NOT NULL, 
	dialled_m FLOAT, 
	arrows INTEGER NOT NULL, 
	up_m FLOAT, 
	right_m FLOAT, 
	slope_rad FLOAT NOT NULL, 
	crosswind_mps FLOAT, 
	cold BOOLEAN NOT NULL, 
	tape VARCHAR NOT NULL, 
	laying INTEGER NOT NULL, 
	label VARCHAR NOT NULL, 
	note VARCHAR NOT NULL, 
	removed BOOLEAN NOT NULL, 
	CONSTRAINT pk_proof_lines PRIMARY KEY (id), 
	CONSTRAINT fk_proof_lines_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
INSERT INTO "proof_lines" VALUES(1,2,'line 1 26 0',2,'2026-11-24 12:12:00.000000','2026-10-26',26.0,26.0,4,0.01,NULL,0.0,NULL,0,'strip 1.0',1,'','',0);
INSERT INTO "proof_lines" VALUES(2,2,'line 2 61 1',2,'2026-11-24 12:13:00.000000','2026-10-27',61.0,61.0,4,-0.04,NULL,0.0,NULL,0,'strip 1.0',1,'','',0);
INSERT INTO "proof_lines" VALUES(3,2,'line 3 47 2',2,'2026-11-24 12:14:00.000000','2026-10-28',47.0,47.0,4,-0.02,NULL,0.0,NULL,0,'strip 1.0',1,'','',0);
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
	asked BOOLEAN NOT NULL, dial_from VARCHAR DEFAULT '' NOT NULL, line_arrows INTEGER, line_right_m FLOAT, line_up_m FLOAT, 
	CONSTRAINT pk_range_ends PRIMARY KEY (id), 
	CONSTRAINT fk_range_ends_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
INSERT INTO "range_ends" VALUES(1,2,'e1','2026-11-24 12:09:00.000000',1,1,2,0,26.0,24.0,'',0,0,0,'',NULL,NULL,NULL);
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
	removed BOOLEAN NOT NULL, "before" VARCHAR DEFAULT '' NOT NULL, 
	CONSTRAINT pk_range_moves PRIMARY KEY (id), 
	CONSTRAINT fk_range_moves_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
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
INSERT INTO "range_sessions" VALUES(1,2,'','2026-11-24 12:09:00.000000',1,2,'','','','','slim','full',NULL,NULL);
CREATE TABLE range_shots (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	entered_utc DATETIME NOT NULL, 
	end_key VARCHAR NOT NULL, 
	right_m FLOAT NOT NULL, 
	up_m FLOAT NOT NULL, 
	called_bad BOOLEAN NOT NULL, 
	removed BOOLEAN NOT NULL, shaft VARCHAR DEFAULT '' NOT NULL, 
	CONSTRAINT pk_range_shots PRIMARY KEY (id), 
	CONSTRAINT fk_range_shots_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
INSERT INTO "range_shots" VALUES(1,2,'e10','2026-11-24 12:09:00.000000','e1',0.01,0.004,0,0,'');
INSERT INTO "range_shots" VALUES(2,2,'e11','2026-11-24 12:09:00.000000','e1',-0.01,0.006,0,0,'');
INSERT INTO "range_shots" VALUES(3,2,'e12','2026-11-24 12:09:00.000000','e1',0.003,-1.10000000000000010963e-02,0,0,'');
INSERT INTO "range_shots" VALUES(4,2,'e13','2026-11-24 12:09:00.000000','e1',-0.005,0.01,0,0,'');
INSERT INTO "range_shots" VALUES(5,2,'e14','2026-11-24 12:09:00.000000','e1',0.008,-0.005,0,0,'');
INSERT INTO "range_shots" VALUES(6,2,'e15','2026-11-24 12:09:00.000000','e1',-0.006,-0.004,0,0,'');
CREATE TABLE rig_days (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	record JSON NOT NULL, 
	CONSTRAINT pk_rig_days PRIMARY KEY (id), 
	CONSTRAINT fk_rig_days_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
CREATE TABLE rig_drafts (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	device VARCHAR NOT NULL, 
	form VARCHAR NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	fields JSON NOT NULL, 
	CONSTRAINT pk_rig_drafts PRIMARY KEY (id), 
	CONSTRAINT fk_rig_drafts_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id), 
	CONSTRAINT uq_rig_drafts_rig_id UNIQUE (rig_id, device, form)
);
CREATE TABLE rig_revisions (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	why VARCHAR NOT NULL, 
	card JSON NOT NULL, happened JSON DEFAULT '[]' NOT NULL, meant JSON DEFAULT '[]' NOT NULL, undoes JSON DEFAULT '[]' NOT NULL, taken_up JSON DEFAULT '[]' NOT NULL, 
	CONSTRAINT pk_rig_revisions PRIMARY KEY (id), 
	CONSTRAINT fk_rig_revisions_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id), 
	CONSTRAINT uq_rig_revisions_rig_id UNIQUE (rig_id, number)
);
INSERT INTO "rig_revisions" VALUES(1,1,1,'2026-11-24 12:01:00.000000','new on the bench','{"name": "Bare bow", "archer": "Sela Brandt", "occasion": "", "due": null, "bow": {"words": "", "draw_weight_n": null, "nock_to_rest_m": null, "least_mass_per_force": null, "let_off": null, "cams_by": ""}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "", "kind": "single_pin_slider", "axes": ["", "", ""], "second_axis_carries_pins": "", "pins": [], "pins_in_line": "", "housing": {"inner_mm": null, "outer_mm": null, "below_pin_mm": null, "pin_room_mm": null}, "slider_travel_mm": null, "home_stop": "", "coarse_steps_mm": [], "extension_mm": [], "holes_mm": [], "scale_division_mm": null, "controls": [], "screws": [], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": null, "ratio_sd": 0.0, "places_mm": []}, "note": "", "hand": "", "index_marks": "", "dovetail_mm": null, "booklet": {"from_m": null, "to_m": null, "strips": [], "read_label": "", "used": "", "labels": []}, "display_lengths": [], "pointers": [], "as_usual": false}, "mount": {"hole": null, "detent": null, "home": "", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": null, "vanes_mm": null, "clearance_mm": null, "torque": "", "quiver": {"ahead_mm": [], "above_mm": [], "out_mm": null}, "wheel": {"ahead_mm": [], "above_mm": [], "out_mm": null}}, "level": {"reference": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "rail": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "sight": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "seat": "", "seat_words": "", "yaw_rad": 0.0, "yaw_proved": false, "tolerance_m": null, "string": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "jig": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "from_shop": [], "clip_proved": false}, "builds": [{"name": "", "shaft_length_m": null, "shaft_kg_per_m": null, "shaft_diameter_m": null, "components": [], "measured_mass_kg": null, "spine": "", "spine_for": null, "sessions": [], "speed_unmeasured": false, "mass_estimated": false, "diameter_estimated": false, "balance_point_m": null}], "in_use": 0, "eye_to_sight_m": null, "eye_to_sight_estimated": false, "peep": {"way": "square", "square_m": null, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": null, "eye_to_peep_m": null, "estimated": false, "square_sd_m": null}, "ranged_from": "eye", "goals": {"home_m": null, "farthest_m": null, "target_size_m": null, "group_size_m": null, "group_at_m": null, "distances_m": [], "pin_distances_m": [], "level_only": false, "slope_up_rad": null, "slope_down_rad": null, "rules": ""}, "eye_to_sight_sd_m": null}','[]','[]','[]','[]');
INSERT INTO "rig_revisions" VALUES(2,2,1,'2026-11-24 12:02:00.000000','new on the bench','{"name": "Test bow", "archer": "Maren Oake", "occasion": "", "due": null, "bow": {"words": "", "draw_weight_n": null, "nock_to_rest_m": null, "least_mass_per_force": null, "let_off": null, "cams_by": ""}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "", "kind": "single_pin_slider", "axes": ["", "", ""], "second_axis_carries_pins": "", "pins": [], "pins_in_line": "", "housing": {"inner_mm": null, "outer_mm": null, "below_pin_mm": null, "pin_room_mm": null}, "slider_travel_mm": null, "home_stop": "", "coarse_steps_mm": [], "extension_mm": [], "holes_mm": [], "scale_division_mm": null, "controls": [], "screws": [], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": null, "ratio_sd": 0.0, "places_mm": []}, "note": "", "hand": "", "index_marks": "", "dovetail_mm": null, "booklet": {"from_m": null, "to_m": null, "strips": [], "read_label": "", "used": "", "labels": []}, "display_lengths": [], "pointers": [], "as_usual": false}, "mount": {"hole": null, "detent": null, "home": "", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": null, "vanes_mm": null, "clearance_mm": null, "torque": "", "quiver": {"ahead_mm": [], "above_mm": [], "out_mm": null}, "wheel": {"ahead_mm": [], "above_mm": [], "out_mm": null}}, "level": {"reference": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "rail": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "sight": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "seat": "", "seat_words": "", "yaw_rad": 0.0, "yaw_proved": false, "tolerance_m": null, "string": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "jig": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "from_shop": [], "clip_proved": false}, "builds": [{"name": "", "shaft_length_m": null, "shaft_kg_per_m": null, "shaft_diameter_m": null, "components": [], "measured_mass_kg": null, "spine": "", "spine_for": null, "sessions": [], "speed_unmeasured": false, "mass_estimated": false, "diameter_estimated": false, "balance_point_m": null}], "in_use": 0, "eye_to_sight_m": null, "eye_to_sight_estimated": false, "peep": {"way": "square", "square_m": null, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": null, "eye_to_peep_m": null, "estimated": false, "square_sd_m": null}, "ranged_from": "eye", "goals": {"home_m": null, "farthest_m": null, "target_size_m": null, "group_size_m": null, "group_at_m": null, "distances_m": [], "pin_distances_m": [], "level_only": false, "slope_up_rad": null, "slope_down_rad": null, "rules": ""}, "eye_to_sight_sd_m": null}','[]','[]','[]','[]');
INSERT INTO "rig_revisions" VALUES(3,2,2,'2026-11-24 12:03:00.000000','measured','{"name": "Test bow", "archer": "Maren Oake", "occasion": "", "due": null, "bow": {"words": "compound", "draw_weight_n": 270.0, "nock_to_rest_m": 0.7, "least_mass_per_force": null, "let_off": null, "cams_by": ""}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "multi-pin slider, generic", "kind": "multi_pin_slider", "axes": ["slots", "pair", "pair"], "second_axis_carries_pins": "yes", "pins": [{"thickness_mm": 0.48, "colour": "", "retractable": false}, {"thickness_mm": 0.48, "colour": "", "retractable": false}, {"thickness_mm": 0.48, "colour": "", "retractable": false}], "pins_in_line": "yes", "housing": {"inner_mm": 44.0, "outer_mm": 52.0, "below_pin_mm": 26.0, "pin_room_mm": 30.0}, "slider_travel_mm": 45.0, "home_stop": "fixed", "coarse_steps_mm": [], "extension_mm": [0.0, 12.0, 24.0, 36.0], "holes_mm": [0.0, 9.5], "scale_division_mm": null, "controls": [{"name": "Elevation wheel", "moves": "elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 45.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Housing, up and down", "moves": "gang_elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 18.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Windage micro", "moves": "windage", "per_click_mm": 0.05, "clicks_per_turn": 20.0, "per_turn_mm": null, "travel_mm": 10.0, "position_mm": null, "clockwise": "", "checked": false}], "screws": [{"name": "Mount bolts, two", "movement": "mount", "drive": "bolt", "unlock_first": "", "key_size": "4 mm", "key_system": "metric", "hidden": false, "never": false, "pair": ""}, {"name": "Dovetail clamp", "movement": "extension", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false, "pair": ""}, {"name": "Slide lock", "movement": "slide_lock", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false, "pair": ""}, {"name": "Housing, up and down", "movement": "gang_elevation", "drive": "screw_lock", "unlock_first": "half a turn", "key_size": "2.5 mm", "key_system": "metric", "hidden": false, "never": false, "pair": ""}, {"name": "Housing, left and right", "movement": "gang_windage", "drive": "screw_lock", "unlock_first": "half a turn", "key_size": "2.5 mm", "key_system": "metric", "hidden": false, "never": false, "pair": ""}, {"name": "Pin screw", "movement": "pin", "drive": "screw_lock", "unlock_first": "a turn", "key_size": "1.5 mm", "key_system": "metric", "hidden": false, "never": false, "pair": ""}, {"name": "Rail block screws", "movement": "first_axis", "drive": "slots", "unlock_first": "half a turn", "key_size": "3 mm", "key_system": "metric", "hidden": false, "never": false, "pair": ""}, {"name": "Second-axis pair", "movement": "second_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false, "pair": "left_right"}, {"name": "Third-axis pair", "movement": "third_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false, "pair": "front_rear"}, {"name": "Vial''s end screws", "movement": "vial", "drive": "pair", "unlock_first": "", "key_size": "1.3 mm", "key_system": "metric", "hidden": false, "never": false, "pair": "left_right"}, {"name": "End-stop screw of the rail", "movement": "stop", "drive": "bolt", "unlock_first": "", "key_size": "", "key_system": "", "hidden": true, "never": true, "pair": ""}], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": 60.0, "ratio_sd": 0.0, "places_mm": []}, "note": "", "hand": "either", "index_marks": "", "dovetail_mm": null, "booklet": {"from_m": null, "to_m": null, "strips": [], "read_label": "", "used": "", "labels": []}, "display_lengths": [], "pointers": [], "as_usual": false}, "mount": {"hole": 0, "detent": 0, "home": "top", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": 0.17, "vanes_mm": 11.0, "clearance_mm": null, "torque": "", "quiver": {"ahead_mm": [], "above_mm": [], "out_mm": null}, "wheel": {"ahead_mm": [], "above_mm": [], "out_mm": null}}, "level": {"reference": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": 0.0, "reversed_on": null, "lines": 4}, "rail": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": 0.0, "reversed_on": null, "lines": 4}, "sight": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": 0.0, "reversed_on": null, "lines": 4}, "seat": "flat", "seat_words": "", "yaw_rad": 0.0, "yaw_proved": true, "tolerance_m": 0.05, "string": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": 0.0, "reversed_on": null, "lines": 4}, "jig": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "from_shop": [], "clip_proved": false}, "builds": [{"name": "slim", "shaft_length_m": 0.72, "shaft_kg_per_m": 0.0168, "shaft_diameter_m": 0.0058, "components": [{"name": "Point", "mass_kg": 0.0098, "centre_from_throat_m": 0.724}, {"name": "Nock", "mass_kg": 0.0006, "centre_from_throat_m": 0.0}], "measured_mass_kg": null, "spine": "", "spine_for": null, "sessions": [{"readings_mps": [80.8, 81.0, 81.2, 80.9], "left_out": [], "distance_m": 1.5, "accuracy": 0.005, "day": null, "draw_weight_n": 270.0, "mass_kg": 0.022496}], "speed_unmeasured": false, "mass_estimated": false, "diameter_estimated": false, "balance_point_m": null}], "in_use": 0, "eye_to_sight_m": 0.82, "eye_to_sight_estimated": false, "peep": {"way": "along", "square_m": null, "along_m": 0.165, "angle_rad": 0.6806784082777885, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": null, "eye_to_peep_m": null, "estimated": false, "square_sd_m": null}, "ranged_from": "sight", "goals": {"home_m": 17.0, "farthest_m": 78.0, "target_size_m": 0.25, "group_size_m": 0.1, "group_at_m": 38.0, "distances_m": [12.0, 17.0, 26.0, 38.0, 47.0, 61.0, 78.0], "pin_distances_m": [17.0, 26.0, 38.0], "level_only": false, "slope_up_rad": null, "slope_down_rad": null, "rules": ""}, "eye_to_sight_sd_m": null}','[]','[]','[]','[]');
CREATE TABLE rig_standings (
	rig_id INTEGER NOT NULL, 
	fresh BOOLEAN NOT NULL, 
	program INTEGER NOT NULL, 
	archived BOOLEAN NOT NULL, 
	name VARCHAR NOT NULL, 
	archer VARCHAR NOT NULL, 
	archer_key VARCHAR NOT NULL, 
	due VARCHAR NOT NULL, 
	urgency INTEGER NOT NULL, 
	summary JSON, 
	CONSTRAINT pk_rig_standings PRIMARY KEY (rig_id), 
	CONSTRAINT fk_rig_standings_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
INSERT INTO "rig_standings" VALUES(1,0,0,0,'','','','',0,NULL);
INSERT INTO "rig_standings" VALUES(2,0,0,0,'','','','',0,NULL);
CREATE TABLE rigs (
	id INTEGER NOT NULL, 
	created_utc DATETIME NOT NULL, 
	units JSON NOT NULL, archived BOOLEAN DEFAULT '0' NOT NULL, version INTEGER DEFAULT '1' NOT NULL, uid VARCHAR DEFAULT '' NOT NULL, origin VARCHAR DEFAULT '' NOT NULL, 
	CONSTRAINT pk_rigs PRIMARY KEY (id)
);
INSERT INTO "rigs" VALUES(1,'2026-11-24 12:01:00.000000','{"distance": "m", "offset": "cm", "length": "mm", "speed": "mps", "mass": "g"}',0,2,'2bfe37629bde4dbe94033f05d0f00d99','');
INSERT INTO "rigs" VALUES(2,'2026-11-24 12:02:00.000000','{"distance": "m", "offset": "cm", "length": "mm", "speed": "mps", "mass": "g"}',0,22,'8144b12ac0da4491a85b5fe55b06c5f5','');
CREATE TABLE shop_hours (
	id INTEGER NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	record JSON NOT NULL, 
	CONSTRAINT pk_shop_hours PRIMARY KEY (id)
);
CREATE TABLE sight_models (
	id INTEGER NOT NULL, 
	model INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	sight JSON NOT NULL, 
	removed BOOLEAN NOT NULL, uid VARCHAR DEFAULT '' NOT NULL, 
	CONSTRAINT pk_sight_models PRIMARY KEY (id), 
	CONSTRAINT uq_sight_models_model UNIQUE (model, number)
);
CREATE TABLE taken_readings (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	station VARCHAR NOT NULL, 
	entry VARCHAR NOT NULL, 
	field VARCHAR NOT NULL, 
	text VARCHAR NOT NULL, 
	instrument VARCHAR NOT NULL, 
	figure VARCHAR NOT NULL, 
	value_si FLOAT NOT NULL, 
	resolution_si FLOAT NOT NULL, 
	sequence INTEGER NOT NULL, 
	taken_utc DATETIME NOT NULL, 
	CONSTRAINT pk_taken_readings PRIMARY KEY (id), 
	CONSTRAINT fk_taken_readings_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
INSERT INTO "taken_readings" VALUES(1,2,'card','','mass','412 gr','bench scale','mass',0.0267,0.0001,7,'2026-11-24 12:17:00.000000');
CREATE TABLE visits (
	id INTEGER NOT NULL, 
	token_sha256 VARCHAR DEFAULT '' NOT NULL, 
	passphrase VARCHAR DEFAULT '' NOT NULL, 
	device VARCHAR DEFAULT '' NOT NULL, 
	address VARCHAR DEFAULT '' NOT NULL, 
	begun_utc DATETIME NOT NULL, 
	seen_utc DATETIME NOT NULL, 
	person INTEGER, 
	ended_utc DATETIME, 
	CONSTRAINT pk_visits PRIMARY KEY (id), 
	CONSTRAINT uq_visits_token_sha256 UNIQUE (token_sha256)
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
INSERT INTO "witness_marks" VALUES(1,2,1,2,'2026-11-24 12:04:00.000000','rest','two lines',1,0);
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
CREATE TRIGGER photos_no_delete BEFORE DELETE ON photos BEGIN SELECT RAISE(ABORT, 'photos is a record: add, never change'); END;
CREATE TRIGGER witness_marks_no_update BEFORE UPDATE ON witness_marks BEGIN SELECT RAISE(ABORT, 'witness_marks is a record: add, never change'); END;
CREATE TRIGGER witness_marks_no_delete BEFORE DELETE ON witness_marks BEGIN SELECT RAISE(ABORT, 'witness_marks is a record: add, never change'); END;
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
CREATE TRIGGER printed_tapes_no_delete BEFORE DELETE ON printed_tapes BEGIN SELECT RAISE(ABORT, 'printed_tapes is a record: add, never change'); END;
CREATE TRIGGER rig_revisions_counts AFTER INSERT ON rig_revisions BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE TRIGGER observations_counts AFTER INSERT ON observations BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE TRIGGER printed_tapes_counts AFTER INSERT ON printed_tapes BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE TRIGGER bench_entries_counts AFTER INSERT ON bench_entries BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE TRIGGER photos_counts AFTER INSERT ON photos BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE TRIGGER witness_marks_counts AFTER INSERT ON witness_marks BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE TRIGGER level_readings_counts AFTER INSERT ON level_readings BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE TRIGGER range_sessions_counts AFTER INSERT ON range_sessions BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE TRIGGER range_ends_counts AFTER INSERT ON range_ends BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE TRIGGER range_shots_counts AFTER INSERT ON range_shots BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE TRIGGER range_moves_counts AFTER INSERT ON range_moves BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE TRIGGER rigs_counts AFTER UPDATE OF units, archived ON rigs BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.id; END;
CREATE INDEX ix_rig_standings_archived_due_name ON rig_standings (archived, due, name);
CREATE INDEX ix_rig_standings_archived_archer_due_name ON rig_standings (archived, archer, due, name);
CREATE INDEX ix_rig_standings_archived_archer_key_due_name ON rig_standings (archived, archer_key, due, name);
CREATE INDEX ix_rig_standings_archived_urgency_due_name ON rig_standings (archived, urgency, due, name);
CREATE INDEX ix_rig_standings_archived_name ON rig_standings (archived, name);
CREATE INDEX ix_rig_standings_old ON rig_standings (rig_id) WHERE fresh = 0;
CREATE TRIGGER rigs_stand AFTER INSERT ON rigs BEGIN INSERT INTO rig_standings (rig_id, fresh, program, archived, name, archer, archer_key, due, urgency) VALUES (NEW.id, 0, 0, NEW.archived, '', '', '', '', 0); END;
CREATE INDEX ix_rig_revisions_sight ON rig_revisions (json_extract(card, '$.sight.name'), rig_id);
CREATE INDEX ix_rig_revisions_archer ON rig_revisions (json_extract(card, '$.archer'), rig_id);
CREATE TRIGGER rigs_changed AFTER UPDATE OF version ON rigs BEGIN UPDATE rig_standings SET fresh = 0, archived = NEW.archived WHERE rig_id = NEW.id; UPDATE rig_standings SET fresh = 0 WHERE rig_id IN (SELECT DISTINCT rig_id FROM rig_revisions WHERE json_extract(card, '$.archer') != '' AND json_extract(card, '$.archer') IN (SELECT json_extract(card, '$.archer') FROM rig_revisions WHERE rig_id = NEW.id) ORDER BY rig_id DESC LIMIT 8); END;
CREATE INDEX ix_proof_lines_rig_id ON proof_lines (rig_id);
CREATE TRIGGER proof_lines_no_update BEFORE UPDATE ON proof_lines BEGIN SELECT RAISE(ABORT, 'proof_lines is a record: add, never change'); END;
CREATE TRIGGER proof_lines_no_delete BEFORE DELETE ON proof_lines BEGIN SELECT RAISE(ABORT, 'proof_lines is a record: add, never change'); END;
CREATE TRIGGER proof_lines_counts AFTER INSERT ON proof_lines BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE UNIQUE INDEX ix_rigs_uid ON rigs (uid);
CREATE TRIGGER printed_tapes_no_update BEFORE UPDATE ON printed_tapes  BEGIN SELECT RAISE(ABORT, 'printed_tapes is a record: add, never change'); END;
CREATE TRIGGER sight_models_no_update BEFORE UPDATE ON sight_models  BEGIN SELECT RAISE(ABORT, 'sight_models is a record: add, never change'); END;
CREATE TRIGGER instruments_no_update BEFORE UPDATE ON instruments  BEGIN SELECT RAISE(ABORT, 'instruments is a record: add, never change'); END;
CREATE TRIGGER instruments_no_delete BEFORE DELETE ON instruments  BEGIN SELECT RAISE(ABORT, 'instruments is a record: add, never change'); END;
CREATE TRIGGER photos_no_update BEFORE UPDATE ON photos WHEN length(OLD.jpeg) > 0 BEGIN SELECT RAISE(ABORT, 'photos is a record: add, never change'); END;
CREATE INDEX ix_taken_readings_rig_id ON taken_readings (rig_id);
CREATE TRIGGER devices_no_update BEFORE UPDATE ON devices BEGIN SELECT RAISE(ABORT, 'devices is a record: add, never change'); END;
CREATE TRIGGER devices_no_delete BEFORE DELETE ON devices BEGIN SELECT RAISE(ABORT, 'devices is a record: add, never change'); END;
CREATE TRIGGER taken_readings_no_update BEFORE UPDATE ON taken_readings BEGIN SELECT RAISE(ABORT, 'taken_readings is a record: add, never change'); END;
CREATE TRIGGER taken_readings_no_delete BEFORE DELETE ON taken_readings BEGIN SELECT RAISE(ABORT, 'taken_readings is a record: add, never change'); END;
CREATE INDEX ix_authors_rig_id ON authors (rig_id);
CREATE INDEX ix_handover_cards_rig_id ON handover_cards (rig_id);
CREATE INDEX ix_archer_links_rig_id ON archer_links (rig_id);
CREATE INDEX ix_rig_days_rig_id ON rig_days (rig_id);
CREATE TRIGGER people_no_update BEFORE UPDATE ON people BEGIN SELECT RAISE(ABORT, 'people is a record: add, never change'); END;
CREATE TRIGGER people_no_delete BEFORE DELETE ON people BEGIN SELECT RAISE(ABORT, 'people is a record: add, never change'); END;
CREATE TRIGGER authors_no_update BEFORE UPDATE ON authors BEGIN SELECT RAISE(ABORT, 'authors is a record: add, never change'); END;
CREATE TRIGGER authors_no_delete BEFORE DELETE ON authors BEGIN SELECT RAISE(ABORT, 'authors is a record: add, never change'); END;
CREATE TRIGGER handover_cards_no_update BEFORE UPDATE ON handover_cards BEGIN SELECT RAISE(ABORT, 'handover_cards is a record: add, never change'); END;
CREATE TRIGGER handover_cards_no_delete BEFORE DELETE ON handover_cards BEGIN SELECT RAISE(ABORT, 'handover_cards is a record: add, never change'); END;
CREATE TRIGGER shop_hours_no_update BEFORE UPDATE ON shop_hours BEGIN SELECT RAISE(ABORT, 'shop_hours is a record: add, never change'); END;
CREATE TRIGGER shop_hours_no_delete BEFORE DELETE ON shop_hours BEGIN SELECT RAISE(ABORT, 'shop_hours is a record: add, never change'); END;
CREATE TRIGGER rig_days_no_update BEFORE UPDATE ON rig_days BEGIN SELECT RAISE(ABORT, 'rig_days is a record: add, never change'); END;
CREATE TRIGGER rig_days_no_delete BEFORE DELETE ON rig_days BEGIN SELECT RAISE(ABORT, 'rig_days is a record: add, never change'); END;
CREATE TRIGGER busy_times_no_update BEFORE UPDATE ON busy_times BEGIN SELECT RAISE(ABORT, 'busy_times is a record: add, never change'); END;
CREATE TRIGGER busy_times_no_delete BEFORE DELETE ON busy_times BEGIN SELECT RAISE(ABORT, 'busy_times is a record: add, never change'); END;
CREATE TRIGGER handover_cards_counts AFTER INSERT ON handover_cards BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END;
CREATE INDEX ix_bench_entries_practice ON bench_entries (rig_id) WHERE station = 'practice';
COMMIT;
