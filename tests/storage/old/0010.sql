BEGIN TRANSACTION;
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
INSERT INTO "alembic_version" VALUES('0010');
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
INSERT INTO "bench_entries" VALUES(1,1,'prepare','rest_centred',2,'2026-11-24 12:03:00.000000',0.0,'','[]','','',0);
INSERT INTO "bench_entries" VALUES(2,1,'prepare','arrow_square',2,'2026-11-24 12:04:00.000000',0.0,'','[]','','',0);
INSERT INTO "bench_entries" VALUES(3,1,'prepare','nock_fit',2,'2026-11-24 12:05:00.000000',NULL,'free','[]','','',0);
INSERT INTO "bench_entries" VALUES(4,1,'prepare','rest_up',2,'2026-11-24 12:06:00.000000',NULL,'clear','[]','','',0);
INSERT INTO "bench_entries" VALUES(5,1,'prepare','d_loop',2,'2026-11-24 12:07:00.000000',NULL,'good','[]','','',0);
INSERT INTO "bench_entries" VALUES(6,1,'prepare','string_shots',2,'2026-11-24 12:08:00.000000',200.0,'','[]','','',0);
INSERT INTO "bench_entries" VALUES(7,1,'prepare','peep_rotation',2,'2026-11-24 12:09:00.000000',NULL,'straight','[]','','',0);
INSERT INTO "bench_entries" VALUES(8,1,'prepare','cam_timing',2,'2026-11-24 12:10:00.000000',0.0,'','[]','','',0);
INSERT INTO "bench_entries" VALUES(9,1,'prepare','servings',2,'2026-11-24 12:11:00.000000',NULL,'sound','[]','','',0);
INSERT INTO "bench_entries" VALUES(10,1,'prepare','limb_bolts',2,'2026-11-24 12:12:00.000000',0.0,'','[]','','',0);
INSERT INTO "bench_entries" VALUES(11,1,'prepare','looseness',2,'2026-11-24 12:13:00.000000',NULL,'tight','[]','','',0);
INSERT INTO "bench_entries" VALUES(12,1,'prepare','ties',2,'2026-11-24 12:14:00.000000',NULL,'secured','[]','','',0);
INSERT INTO "bench_entries" VALUES(13,1,'prepare','eyes_closed',2,'2026-11-24 12:15:00.000000',NULL,'there','[]','','',0);
INSERT INTO "bench_entries" VALUES(14,1,'prepare','shafts',2,'2026-11-24 12:16:00.000000',NULL,'good','[]','','',0);
INSERT INTO "bench_entries" VALUES(15,1,'prepare','paper_tear',2,'2026-11-24 12:17:00.000000',20.0,'','[[0.001, 0.0]]','','',0);
INSERT INTO "bench_entries" VALUES(16,1,'prepare','bare_shaft',2,'2026-11-24 12:18:00.000000',20.0,'','[[0.001, 0.0]]','','',0);
INSERT INTO "bench_entries" VALUES(17,1,'prepare','walk_back',2,'2026-11-24 12:19:00.000000',NULL,'','[[12.0, 0.0], [18.0, 0.0], [24.0, 0.0], [30.0, 0.0]]','','',0);
INSERT INTO "bench_entries" VALUES(18,1,'mount','order',2,'2026-11-24 12:20:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(19,1,'mount','threads',2,'2026-11-24 12:21:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(20,1,'mount','mount_bolts',2,'2026-11-24 12:22:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(21,1,'mount','detent',2,'2026-11-24 12:23:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(22,1,'mount','slide_free',2,'2026-11-24 12:24:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(23,1,'mount','micro_middle',2,'2026-11-24 12:25:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(24,1,'mount','plane',2,'2026-11-24 12:26:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(25,1,'mount','coarse',2,'2026-11-24 12:27:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(26,1,'mount','home',2,'2026-11-24 12:28:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(27,1,'mount','play',2,'2026-11-24 12:29:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(28,1,'mount','lock',2,'2026-11-24 12:30:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(29,1,'mount','clear_top',2,'2026-11-24 12:31:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(30,1,'mount','clear_bottom',2,'2026-11-24 12:32:00.000000',NULL,'done','[]','','',0);
INSERT INTO "bench_entries" VALUES(31,1,'level','plumb',2,'2026-11-24 12:33:00.000000',0.0,'flat','[[0.0, 0.0]]','','',0);
CREATE TABLE instruments (
	id INTEGER NOT NULL, 
	instrument INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	saved_utc DATETIME NOT NULL, 
	record JSON NOT NULL, 
	removed BOOLEAN NOT NULL, 
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
INSERT INTO "level_readings" VALUES(1,1,2,'2026-11-24 12:34:00.000000','first','rail_vial',0.0,0.0,0.0,NULL,1,'','',NULL,NULL,0,'',0,0,NULL,NULL,NULL,'');
INSERT INTO "level_readings" VALUES(2,1,2,'2026-11-24 12:35:00.000000','first','rail_vial',0.0,0.0,0.0,NULL,1,'','',NULL,NULL,0,'',0,0,NULL,NULL,NULL,'');
INSERT INTO "level_readings" VALUES(3,1,2,'2026-11-24 12:36:00.000000','second','to_string',0.0,0.0,0.0,NULL,1,'','',NULL,NULL,0,'',0,0,NULL,NULL,NULL,'');
INSERT INTO "level_readings" VALUES(4,1,2,'2026-11-24 12:37:00.000000','second','to_string',0.0,0.0,0.0,NULL,1,'','',NULL,NULL,0,'',0,0,NULL,NULL,NULL,'');
INSERT INTO "level_readings" VALUES(5,1,2,'2026-11-24 12:38:00.000000','third','hand_plumb',-6.10865238198015303439e-01,0.0,0.0,NULL,1,'','',NULL,NULL,0,'',0,0,NULL,NULL,NULL,'');
INSERT INTO "level_readings" VALUES(6,1,2,'2026-11-24 12:39:00.000000','third','hand_plumb',-6.10865238198015303439e-01,0.0,0.0,NULL,1,'','',NULL,NULL,0,'',0,0,NULL,NULL,NULL,'');
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
INSERT INTO "observations" VALUES(1,1,1,2,'2026-11-24 12:40:00.000000',17.0,20.0,0.0,6,0,0,'',0,'','',NULL,'',NULL,NULL);
INSERT INTO "observations" VALUES(2,1,2,2,'2026-11-24 12:41:00.000000',38.0,31.0,0.0,6,0,0,'',0,'','',NULL,'',NULL,NULL);
INSERT INTO "observations" VALUES(3,1,3,2,'2026-11-24 12:42:00.000000',61.0,45.7,0.0,6,0,0,'',0,'','',NULL,'',NULL,NULL);
INSERT INTO "observations" VALUES(4,1,4,2,'2026-11-24 12:44:00.000000',61.0,14.2,0.0,6,0,0,'k1',0,'','lines',17.0,'',NULL,NULL);
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
CREATE TABLE printed_tapes (
	id INTEGER NOT NULL, 
	rig_id INTEGER NOT NULL, 
	revision INTEGER NOT NULL, 
	printed_utc DATETIME NOT NULL, 
	sheet JSON NOT NULL, 
	CONSTRAINT pk_printed_tapes PRIMARY KEY (id), 
	CONSTRAINT fk_printed_tapes_rig_id_rigs FOREIGN KEY(rig_id) REFERENCES rigs (id)
);
INSERT INTO "printed_tapes" VALUES(1,1,2,'2026-11-24 12:46:00.000000','{"strips": [{"name": "nearer", "edges": [{"ticks": [{"count": 38, "position_mm": -1.1238639443041196e-08, "rank": 1, "label": null, "beyond": false}, {"count": 39, "position_mm": 0.5138164476746548, "rank": 1, "label": null, "beyond": false}, {"count": 40, "position_mm": 1.0308883211448925, "rank": 10, "label": "40", "beyond": false}, {"count": 41, "position_mm": 1.551009374381094, "rank": 1, "label": null, "beyond": false}, {"count": 42, "position_mm": 2.073992842349778, "rank": 1, "label": null, "beyond": false}, {"count": 43, "position_mm": 2.5996692080712376, "rank": 1, "label": null, "beyond": false}, {"count": 44, "position_mm": 3.127884278605639, "rank": 1, "label": null, "beyond": false}, {"count": 45, "position_mm": 3.658497513115966, "rank": 5, "label": null, "beyond": false}, {"count": 46, "position_mm": 4.191380565100353, "rank": 1, "label": null, "beyond": false}, {"count": 47, "position_mm": 4.726416007784828, "rank": 1, "label": null, "beyond": false}, {"count": 48, "position_mm": 5.263496216175291, "rank": 1, "label": null, "beyond": false}, {"count": 49, "position_mm": 5.802522383778365, "rank": 1, "label": null, "beyond": false}, {"count": 50, "position_mm": 6.343403655394559, "rank": 10, "label": "50", "beyond": false}, {"count": 51, "position_mm": 6.88605636064521, "rank": 1, "label": null, "beyond": false}, {"count": 52, "position_mm": 7.43040333428298, "rank": 1, "label": null, "beyond": false}, {"count": 53, "position_mm": 7.976373312404195, "rank": 1, "label": null, "beyond": false}, {"count": 54, "position_mm": 8.523900394853355, "rank": 1, "label": null, "beyond": false}, {"count": 55, "position_mm": 9.072923565410237, "rank": 5, "label": null, "beyond": false}, {"count": 56, "position_mm": 9.623386262659182, "rank": 1, "label": null, "beyond": false}, {"count": 57, "position_mm": 10.175235995177838, "rank": 1, "label": null, "beyond": false}, {"count": 58, "position_mm": 10.728423996603048, "rank": 1, "label": null, "beyond": false}, {"count": 59, "position_mm": 11.282904914659289, "rank": 1, "label": null, "beyond": false}, {"count": 60, "position_mm": 11.838636531087483, "rank": 10, "label": "60", "beyond": false}, {"count": 61, "position_mm": 12.395579509088487, "rank": 1, "label": null, "beyond": false}, {"count": 62, "position_mm": 12.953697164448455, "rank": 1, "label": null, "beyond": false}, {"count": 63, "position_mm": 13.512955258393626, "rank": 1, "label": null, "beyond": false}, {"count": 64, "position_mm": 14.073321809752239, "rank": 1, "label": null, "beyond": false}, {"count": 65, "position_mm": 14.63476692402059, "rank": 5, "label": null, "beyond": false}, {"count": 66, "position_mm": 15.197262637839902, "rank": 1, "label": null, "beyond": false}, {"count": 67, "position_mm": 15.760782777532908, "rank": 1, "label": null, "beyond": false}, {"count": 68, "position_mm": 16.325302829458195, "rank": 1, "label": null, "beyond": false}, {"count": 69, "position_mm": 16.890799822005114, "rank": 1, "label": null, "beyond": false}, {"count": 70, "position_mm": 17.457252217258453, "rank": 10, "label": "70", "beyond": false}, {"count": 71, "position_mm": 18.02463981198359, "rank": 1, "label": null, "beyond": false}, {"count": 72, "position_mm": 18.592943646492504, "rank": 1, "label": null, "beyond": false}, {"count": 73, "position_mm": 19.162145921372762, "rank": 1, "label": null, "beyond": false}, {"count": 74, "position_mm": 19.732229920161597, "rank": 1, "label": null, "beyond": false}, {"count": 75, "position_mm": 20.30317993905693, "rank": 5, "label": null, "beyond": false}, {"count": 76, "position_mm": 20.87498122141542, "rank": 1, "label": null, "beyond": false}, {"count": 77, "position_mm": 21.447619897490263, "rank": 1, "label": null, "beyond": false}, {"count": 78, "position_mm": 22.021082929163928, "rank": 1, "label": "78", "beyond": false}], "unit_m": 1.0}], "home": ""}, {"name": "fitted", "edges": [{"ticks": [{"count": 38, "position_mm": 1.4559020655724453e-11, "rank": 1, "label": null, "beyond": false}, {"count": 39, "position_mm": 0.5225225236754056, "rank": 1, "label": null, "beyond": false}, {"count": 40, "position_mm": 1.0484548771626265, "rank": 10, "label": "40", "beyond": false}, {"count": 41, "position_mm": 1.5775884866695122, "rank": 1, "label": null, "beyond": false}, {"count": 42, "position_mm": 2.1097344972973175, "rank": 1, "label": null, "beyond": false}, {"count": 43, "position_mm": 2.64472152349979, "rank": 1, "label": null, "beyond": false}, {"count": 44, "position_mm": 3.182393700792666, "rank": 1, "label": null, "beyond": false}, {"count": 45, "position_mm": 3.7226089926873627, "rank": 5, "label": null, "beyond": false}, {"count": 46, "position_mm": 4.265237714677184, "rank": 1, "label": null, "beyond": false}, {"count": 47, "position_mm": 4.810161243493077, "rank": 1, "label": null, "beyond": false}, {"count": 48, "position_mm": 5.357270885055318, "rank": 1, "label": null, "beyond": false}, {"count": 49, "position_mm": 5.906466878816435, "rank": 1, "label": null, "beyond": false}, {"count": 50, "position_mm": 6.457657519702813, "rank": 10, "label": "50", "beyond": false}, {"count": 51, "position_mm": 7.010758381764543, "rank": 1, "label": null, "beyond": false}, {"count": 52, "position_mm": 7.565691630050676, "rank": 1, "label": null, "beyond": false}, {"count": 53, "position_mm": 8.12238540923138, "rank": 1, "label": null, "beyond": false}, {"count": 54, "position_mm": 8.680773299164862, "rank": 1, "label": null, "beyond": false}, {"count": 55, "position_mm": 9.240793829011164, "rank": 5, "label": null, "beyond": false}, {"count": 56, "position_mm": 9.802390042678578, "rank": 1, "label": null, "beyond": false}, {"count": 57, "position_mm": 10.36550910938606, "rank": 1, "label": null, "beyond": false}, {"count": 58, "position_mm": 10.930101973971638, "rank": 1, "label": null, "beyond": false}, {"count": 59, "position_mm": 11.49612304229408, "rank": 1, "label": null, "beyond": false}, {"count": 60, "position_mm": 12.06352989768859, "rank": 10, "label": "60", "beyond": false}, {"count": 61, "position_mm": 12.632283044958712, "rank": 1, "label": null, "beyond": false}, {"count": 62, "position_mm": 13.202345678835798, "rank": 1, "label": null, "beyond": false}, {"count": 63, "position_mm": 13.77368347422182, "rank": 1, "label": null, "beyond": false}, {"count": 64, "position_mm": 14.346264395862491, "rank": 1, "label": null, "beyond": false}, {"count": 65, "position_mm": 14.920058525383816, "rank": 5, "label": null, "beyond": false}, {"count": 66, "position_mm": 15.495037903872948, "rank": 1, "label": null, "beyond": false}, {"count": 67, "position_mm": 16.07117638839869, "rank": 1, "label": null, "beyond": false}, {"count": 68, "position_mm": 16.648449521053195, "rank": 1, "label": null, "beyond": false}, {"count": 69, "position_mm": 17.226834409259858, "rank": 1, "label": null, "beyond": false}, {"count": 70, "position_mm": 17.80630961623325, "rank": 10, "label": "70", "beyond": false}, {"count": 71, "position_mm": 18.386855060601754, "rank": 1, "label": null, "beyond": false}, {"count": 72, "position_mm": 18.96845192431183, "rank": 1, "label": null, "beyond": false}, {"count": 73, "position_mm": 19.55108256802876, "rank": 1, "label": null, "beyond": false}, {"count": 74, "position_mm": 20.13473045333223, "rank": 1, "label": null, "beyond": false}, {"count": 75, "position_mm": 20.719380071079634, "rank": 5, "label": null, "beyond": false}, {"count": 76, "position_mm": 21.305016875374726, "rank": 1, "label": null, "beyond": false}, {"count": 77, "position_mm": 21.891627222637972, "rank": 1, "label": null, "beyond": false}, {"count": 78, "position_mm": 22.47919831532483, "rank": 1, "label": "78", "beyond": false}], "unit_m": 1.0}], "home": ""}, {"name": "farther", "edges": [{"ticks": [{"count": 38, "position_mm": 1.1267757484352645e-08, "rank": 1, "label": null, "beyond": false}, {"count": 39, "position_mm": 0.5312285996761564, "rank": 1, "label": null, "beyond": false}, {"count": 40, "position_mm": 1.0660214331803606, "rank": 10, "label": "40", "beyond": false}, {"count": 41, "position_mm": 1.6041675989579305, "rank": 1, "label": null, "beyond": false}, {"count": 42, "position_mm": 2.145476152244857, "rank": 1, "label": null, "beyond": false}, {"count": 43, "position_mm": 2.689773838928342, "rank": 1, "label": null, "beyond": false}, {"count": 44, "position_mm": 3.236903122979693, "rank": 1, "label": null, "beyond": false}, {"count": 45, "position_mm": 3.7867204722587595, "rank": 5, "label": null, "beyond": false}, {"count": 46, "position_mm": 4.339094864254015, "rank": 1, "label": null, "beyond": false}, {"count": 47, "position_mm": 4.893906479201326, "rank": 1, "label": null, "beyond": false}, {"count": 48, "position_mm": 5.451045553935344, "rank": 1, "label": null, "beyond": false}, {"count": 49, "position_mm": 6.010411373854504, "rank": 1, "label": null, "beyond": false}, {"count": 50, "position_mm": 6.5719113840110674, "rank": 10, "label": "50", "beyond": false}, {"count": 51, "position_mm": 7.135460402883876, "rank": 1, "label": null, "beyond": false}, {"count": 52, "position_mm": 7.7009799258183715, "rank": 1, "label": null, "beyond": false}, {"count": 53, "position_mm": 8.268397506058566, "rank": 1, "label": null, "beyond": false}, {"count": 54, "position_mm": 8.83764620347637, "rank": 1, "label": null, "beyond": false}, {"count": 55, "position_mm": 9.40866409261209, "rank": 5, "label": null, "beyond": false}, {"count": 56, "position_mm": 9.981393822697974, "rank": 1, "label": null, "beyond": false}, {"count": 57, "position_mm": 10.555782223594283, "rank": 1, "label": null, "beyond": false}, {"count": 58, "position_mm": 11.131779951340228, "rank": 1, "label": null, "beyond": false}, {"count": 59, "position_mm": 11.709341169928871, "rank": 1, "label": null, "beyond": false}, {"count": 60, "position_mm": 12.288423264289696, "rank": 10, "label": "60", "beyond": false}, {"count": 61, "position_mm": 12.868986580828937, "rank": 1, "label": null, "beyond": false}, {"count": 62, "position_mm": 13.45099419322314, "rank": 1, "label": null, "beyond": false}, {"count": 63, "position_mm": 14.034411690050012, "rank": 1, "label": null, "beyond": false}, {"count": 64, "position_mm": 14.619206981972743, "rank": 1, "label": null, "beyond": false}, {"count": 65, "position_mm": 15.20535012674704, "rank": 5, "label": null, "beyond": false}, {"count": 66, "position_mm": 15.792813169905994, "rank": 1, "label": null, "beyond": false}, {"count": 67, "position_mm": 16.381569999264475, "rank": 1, "label": null, "beyond": false}, {"count": 68, "position_mm": 16.971596212648194, "rank": 1, "label": null, "beyond": false}, {"count": 69, "position_mm": 17.562868996514602, "rank": 1, "label": null, "beyond": false}, {"count": 70, "position_mm": 18.155367015208046, "rank": 10, "label": "70", "beyond": false}, {"count": 71, "position_mm": 18.749070309219917, "rank": 1, "label": null, "beyond": false}, {"count": 72, "position_mm": 19.343960202131154, "rank": 1, "label": null, "beyond": false}, {"count": 73, "position_mm": 19.94001921468476, "rank": 1, "label": null, "beyond": false}, {"count": 74, "position_mm": 20.537230986502866, "rank": 1, "label": null, "beyond": false}, {"count": 75, "position_mm": 21.13558020310234, "rank": 5, "label": null, "beyond": false}, {"count": 76, "position_mm": 21.73505252933403, "rank": 1, "label": null, "beyond": false}, {"count": 77, "position_mm": 22.33563454778568, "rank": 1, "label": null, "beyond": false}, {"count": 78, "position_mm": 22.93731370148573, "rank": 1, "label": "78", "beyond": false}], "unit_m": 1.0}], "home": ""}], "style": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "copies": 1, "paper": "A4", "measured_bar_mm": 100.0, "other_edge": ""}, "heading": ["a"], "waste": ["a", "b"], "home_m": 37.99999869614002, "home_mark_mm": 21.826535389011887}');
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
INSERT INTO "range_ends" VALUES(1,1,'end1','2026-11-24 12:43:00.000000',1,1,2,0,17.0,NULL,'',0,0,0,'',NULL,NULL,NULL);
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
INSERT INTO "range_sessions" VALUES(1,1,'','2026-11-24 12:43:00.000000',1,2,'','','','','slim','full',NULL,NULL);
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
INSERT INTO "range_shots" VALUES(1,1,'end10','2026-11-24 12:43:00.000000','end1',0.01,0.004,0,0,'');
INSERT INTO "range_shots" VALUES(2,1,'end11','2026-11-24 12:43:00.000000','end1',-0.01,0.006,0,0,'');
INSERT INTO "range_shots" VALUES(3,1,'end12','2026-11-24 12:43:00.000000','end1',0.003,-1.10000000000000010963e-02,0,0,'');
INSERT INTO "range_shots" VALUES(4,1,'end13','2026-11-24 12:43:00.000000','end1',-0.005,0.01,0,0,'');
INSERT INTO "range_shots" VALUES(5,1,'end14','2026-11-24 12:43:00.000000','end1',0.008,-0.005,0,0,'');
INSERT INTO "range_shots" VALUES(6,1,'end15','2026-11-24 12:43:00.000000','end1',-0.006,-0.004,0,0,'');
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
INSERT INTO "rig_revisions" VALUES(1,1,1,'2026-11-24 12:01:00.000000','new on the bench','{"name": "Test bow", "archer": "Maren Oake", "occasion": "", "due": null, "bow": {"words": "", "draw_weight_n": null, "nock_to_rest_m": null, "least_mass_per_force": null, "let_off": null}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "", "kind": "single_pin_slider", "axes": ["", "", ""], "second_axis_carries_pins": "", "pins": [], "pins_in_line": "", "housing": {"inner_mm": null, "outer_mm": null, "below_pin_mm": null, "pin_room_mm": null}, "slider_travel_mm": null, "home_stop": "", "coarse_steps_mm": [], "extension_mm": [], "holes_mm": [], "scale_division_mm": null, "controls": [], "screws": [], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": null, "ratio_sd": 0.0, "places_mm": []}, "note": "", "hand": "", "index_marks": "", "dovetail_mm": null, "booklet": {"from_m": null, "to_m": null, "strips": [], "read_label": "", "used": "", "labels": []}, "display_lengths": [], "pointers": []}, "mount": {"hole": null, "detent": null, "home": "", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": null, "vanes_mm": null, "clearance_mm": null, "torque": ""}, "level": {"reference": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "rail": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "sight": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "seat": "", "seat_words": "", "yaw_rad": 0.0, "yaw_proved": false, "tolerance_m": null, "string": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "jig": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "from_shop": [], "clip_proved": false}, "builds": [{"name": "", "shaft_length_m": null, "shaft_kg_per_m": null, "shaft_diameter_m": null, "components": [], "measured_mass_kg": null, "spine": "", "spine_for": null, "sessions": [], "speed_unmeasured": false}], "in_use": 0, "eye_to_sight_m": null, "peep": {"way": "square", "square_m": null, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": null, "eye_to_peep_m": null}, "ranged_from": "eye", "goals": {"home_m": null, "farthest_m": null, "target_size_m": null, "group_size_m": null, "group_at_m": null, "distances_m": [], "pin_distances_m": [], "level_only": false, "slope_up_rad": null, "slope_down_rad": null, "rules": ""}}','[]','[]','[]','[]');
INSERT INTO "rig_revisions" VALUES(2,1,2,'2026-11-24 12:02:00.000000','measured','{"name": "Test bow", "archer": "Maren Oake", "occasion": "", "due": null, "bow": {"words": "compound", "draw_weight_n": 270.0, "nock_to_rest_m": 0.7, "least_mass_per_force": null, "let_off": null}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "multi-pin slider, generic", "kind": "multi_pin_slider", "axes": ["slots", "pair", "pair"], "second_axis_carries_pins": "yes", "pins": [{"thickness_mm": 0.48, "colour": "", "retractable": false}, {"thickness_mm": 0.48, "colour": "", "retractable": false}, {"thickness_mm": 0.48, "colour": "", "retractable": false}], "pins_in_line": "yes", "housing": {"inner_mm": 44.0, "outer_mm": 52.0, "below_pin_mm": 26.0, "pin_room_mm": 30.0}, "slider_travel_mm": 45.0, "home_stop": "fixed", "coarse_steps_mm": [], "extension_mm": [0.0, 12.0, 24.0, 36.0], "holes_mm": [0.0, 9.5], "scale_division_mm": null, "controls": [{"name": "Elevation wheel", "moves": "elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 45.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Housing, up and down", "moves": "gang_elevation", "per_click_mm": null, "clicks_per_turn": null, "per_turn_mm": null, "travel_mm": 18.0, "position_mm": null, "clockwise": "", "checked": false}, {"name": "Windage micro", "moves": "windage", "per_click_mm": 0.05, "clicks_per_turn": 20.0, "per_turn_mm": null, "travel_mm": 10.0, "position_mm": null, "clockwise": "", "checked": false}], "screws": [{"name": "Mount bolts, two", "movement": "mount", "drive": "bolt", "unlock_first": "", "key_size": "4 mm", "key_system": "metric", "hidden": false, "never": false, "pair": ""}, {"name": "Dovetail clamp", "movement": "extension", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false, "pair": ""}, {"name": "Slide lock", "movement": "slide_lock", "drive": "knob", "unlock_first": "", "key_size": "", "key_system": "none", "hidden": false, "never": false, "pair": ""}, {"name": "Housing, up and down", "movement": "gang_elevation", "drive": "screw_lock", "unlock_first": "half a turn", "key_size": "2.5 mm", "key_system": "metric", "hidden": false, "never": false, "pair": ""}, {"name": "Housing, left and right", "movement": "gang_windage", "drive": "screw_lock", "unlock_first": "half a turn", "key_size": "2.5 mm", "key_system": "metric", "hidden": false, "never": false, "pair": ""}, {"name": "Pin screw", "movement": "pin", "drive": "screw_lock", "unlock_first": "a turn", "key_size": "1.5 mm", "key_system": "metric", "hidden": false, "never": false, "pair": ""}, {"name": "Rail block screws", "movement": "first_axis", "drive": "slots", "unlock_first": "half a turn", "key_size": "3 mm", "key_system": "metric", "hidden": false, "never": false, "pair": ""}, {"name": "Second-axis pair", "movement": "second_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false, "pair": "left_right"}, {"name": "Third-axis pair", "movement": "third_axis", "drive": "pair", "unlock_first": "quarter of a turn on the lock", "key_size": "2 mm", "key_system": "metric", "hidden": false, "never": false, "pair": "front_rear"}, {"name": "Vial''s end screws", "movement": "vial", "drive": "pair", "unlock_first": "", "key_size": "1.3 mm", "key_system": "metric", "hidden": false, "never": false, "pair": "left_right"}, {"name": "End-stop screw of the rail", "movement": "stop", "drive": "bolt", "unlock_first": "", "key_size": "", "key_system": "", "hidden": true, "never": true, "pair": ""}], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": 60.0, "ratio_sd": 0.0, "places_mm": []}, "note": "", "hand": "either", "index_marks": "", "dovetail_mm": null, "booklet": {"from_m": null, "to_m": null, "strips": [], "read_label": "", "used": "", "labels": []}, "display_lengths": [], "pointers": []}, "mount": {"hole": 0, "detent": 0, "home": "top", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": 0.17, "vanes_mm": 11.0, "clearance_mm": null, "torque": ""}, "level": {"reference": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": 0.0, "reversed_on": null, "lines": 4}, "rail": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": 0.0, "reversed_on": null, "lines": 4}, "sight": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": 0.0, "reversed_on": null, "lines": 4}, "seat": "flat", "seat_words": "", "yaw_rad": 0.0, "yaw_proved": true, "tolerance_m": 0.05, "string": {"per_division_rad": 0.008726646259971648, "settle_s": 4.0, "roll_error_div": 0.0, "reversed_on": null, "lines": 4}, "jig": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "from_shop": [], "clip_proved": false}, "builds": [{"name": "slim", "shaft_length_m": 0.72, "shaft_kg_per_m": 0.0168, "shaft_diameter_m": 0.0058, "components": [{"name": "Point", "mass_kg": 0.0098, "centre_from_throat_m": 0.724}, {"name": "Nock", "mass_kg": 0.0006, "centre_from_throat_m": 0.0}], "measured_mass_kg": null, "spine": "", "spine_for": null, "sessions": [{"readings_mps": [80.8, 81.0, 81.2, 80.9], "left_out": [], "distance_m": 1.5, "accuracy": 0.005, "day": null, "draw_weight_n": 270.0, "mass_kg": 0.022496}], "speed_unmeasured": false}], "in_use": 0, "eye_to_sight_m": 0.82, "peep": {"way": "along", "square_m": null, "along_m": 0.165, "angle_rad": 0.6806784082777885, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": null, "eye_to_peep_m": null}, "ranged_from": "sight", "goals": {"home_m": 17.0, "farthest_m": 78.0, "target_size_m": 0.25, "group_size_m": 0.1, "group_at_m": 38.0, "distances_m": [12.0, 17.0, 26.0, 38.0, 47.0, 61.0, 78.0], "pin_distances_m": [17.0, 26.0, 38.0], "level_only": false, "slope_up_rad": null, "slope_down_rad": null, "rules": ""}}','[]','[]','[]','[]');
INSERT INTO "rig_revisions" VALUES(3,2,1,'2026-11-24 12:45:00.000000','new on the bench','{"name": "Kiln bow", "archer": "Sela Brandt", "occasion": "", "due": null, "bow": {"words": "", "draw_weight_n": null, "nock_to_rest_m": null, "least_mass_per_force": null, "let_off": null}, "handed": "right", "release": "", "anchor": "", "sight": {"name": "", "kind": "single_pin_slider", "axes": ["", "", ""], "second_axis_carries_pins": "", "pins": [], "pins_in_line": "", "housing": {"inner_mm": null, "outer_mm": null, "below_pin_mm": null, "pin_room_mm": null}, "slider_travel_mm": null, "home_stop": "", "coarse_steps_mm": [], "extension_mm": [], "holes_mm": [], "scale_division_mm": null, "controls": [], "screws": [], "heads": [], "head_in_use": "", "tape": {"width_mm": 9.0, "ticks_at": "right", "farther_runs": "down", "scale_grows": true, "ratio": 1.0, "unit_m": 1.0, "length_mm": null, "ratio_sd": 0.0, "places_mm": []}, "note": "", "hand": "", "index_marks": "", "dovetail_mm": null, "booklet": {"from_m": null, "to_m": null, "strips": [], "read_label": "", "used": "", "labels": []}, "display_lengths": [], "pointers": []}, "mount": {"hole": null, "detent": null, "home": "", "reserve_mm": null, "pin_at_top_mm": null, "ahead_of_grip_m": null, "vanes_mm": null, "clearance_mm": null, "torque": ""}, "level": {"reference": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "rail": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "sight": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "seat": "", "seat_words": "", "yaw_rad": 0.0, "yaw_proved": false, "tolerance_m": null, "string": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "jig": {"per_division_rad": null, "settle_s": null, "roll_error_div": null, "reversed_on": null, "lines": 4}, "from_shop": [], "clip_proved": false}, "builds": [{"name": "", "shaft_length_m": null, "shaft_kg_per_m": null, "shaft_diameter_m": null, "components": [], "measured_mass_kg": null, "spine": "", "spine_for": null, "sessions": [], "speed_unmeasured": false}], "in_use": 0, "eye_to_sight_m": null, "peep": {"way": "square", "square_m": null, "along_m": null, "angle_rad": null, "axle_to_axle_m": null, "true_draw_m": null, "aperture_m": null, "eye_to_peep_m": null}, "ranged_from": "eye", "goals": {"home_m": null, "farthest_m": null, "target_size_m": null, "group_size_m": null, "group_at_m": null, "distances_m": [], "pin_distances_m": [], "level_only": false, "slope_up_rad": null, "slope_down_rad": null, "rules": ""}}','[]','[]','[]','[]');
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
INSERT INTO "rig_standings" VALUES(1,1,6,0,'test bow','Maren Oake','maren oake','9999',1,'{"name": "Test bow", "archer": "Maren Oake", "occasion": "", "due": null, "kind": "multi_pin_slider", "standings": [{"station": {"key": "card", "name": "Card"}, "state": "done", "word": "complete", "count": 0, "far_m": null}, {"station": {"key": "prepare", "name": "Prepare"}, "state": "done", "word": "ready", "count": 0, "far_m": null}, {"station": {"key": "mount", "name": "Mount"}, "state": "done", "word": "mounted", "count": 0, "far_m": null}, {"station": {"key": "level", "name": "Level"}, "state": "done", "word": "levelled", "count": 0, "far_m": null}, {"station": {"key": "sight_in", "name": "Sight in"}, "state": "due", "word": "usable_to", "count": 12, "far_m": 17.0}, {"station": {"key": "tape", "name": "Tape"}, "state": "due", "word": "disagrees", "count": 0, "far_m": 78.0}], "step": {"station": "sight_in", "code": "confirm", "numbers": {"ranged_m": 17.0, "arrows": 0.0}, "about": "", "message": ""}, "problem": "", "waits_for": "", "waits_until": null}');
INSERT INTO "rig_standings" VALUES(2,1,6,0,'kiln bow','Sela Brandt','sela brandt','9999',1,'{"name": "Kiln bow", "archer": "Sela Brandt", "occasion": "", "due": null, "kind": "single_pin_slider", "standings": [{"station": {"key": "card", "name": "Card"}, "state": "due", "word": "incomplete", "count": 7, "far_m": null}, {"station": {"key": "prepare", "name": "Prepare"}, "state": "due", "word": "checks_open", "count": 15, "far_m": null}, {"station": {"key": "mount", "name": "Mount"}, "state": "due", "word": "steps_open", "count": 12, "far_m": null}, {"station": {"key": "level", "name": "Level"}, "state": "blocked", "word": "waits_for_gate", "count": 0, "far_m": null}, {"station": {"key": "sight_in", "name": "Sight in"}, "state": "blocked", "word": "waits_for_card", "count": 0, "far_m": null}, {"station": {"key": "tape", "name": "Tape"}, "state": "blocked", "word": "waits_for_card", "count": 0, "far_m": null}], "step": {"station": "card", "code": "arrow", "numbers": {}, "about": "", "message": ""}, "problem": "", "waits_for": "", "waits_until": null}');
CREATE TABLE rigs (
	id INTEGER NOT NULL, 
	created_utc DATETIME NOT NULL, 
	units JSON NOT NULL, archived BOOLEAN DEFAULT '0' NOT NULL, version INTEGER DEFAULT '1' NOT NULL, 
	CONSTRAINT pk_rigs PRIMARY KEY (id)
);
INSERT INTO "rigs" VALUES(1,'2026-11-24 12:01:00.000000','{"distance": "m", "offset": "cm", "length": "mm", "speed": "mps", "mass": "g"}',0,53);
INSERT INTO "rigs" VALUES(2,'2026-11-24 12:45:00.000000','{"distance": "m", "offset": "cm", "length": "mm", "speed": "mps", "mass": "g"}',0,2);
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
COMMIT;
