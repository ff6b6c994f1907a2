BEGIN TRANSACTION;
CREATE TABLE agreed (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    decision TEXT NOT NULL,
    stars INTEGER NOT NULL,
    label TEXT
, texts TEXT NOT NULL DEFAULT '{}', stated TEXT, sidecars INTEGER NOT NULL DEFAULT 0);
INSERT INTO "agreed" VALUES(1,'undecided',0,NULL,'{}','{}',0);
INSERT INTO "agreed" VALUES(2,'undecided',0,NULL,'{}','{}',0);
INSERT INTO "agreed" VALUES(3,'undecided',0,NULL,'{}','{}',0);
INSERT INTO "agreed" VALUES(4,'undecided',0,NULL,'{}','{}',0);
INSERT INTO "agreed" VALUES(5,'undecided',0,NULL,'{}','{}',0);
CREATE TABLE backup_number (number INTEGER NOT NULL);
INSERT INTO "backup_number" VALUES(1);
CREATE TABLE bringing (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER REFERENCES shoot(id) ON DELETE SET NULL,
    source TEXT NOT NULL,             -- the card's folder
    target TEXT NOT NULL,
    second TEXT NOT NULL,             -- where the second copies go; '' for none
    outside INTEGER NOT NULL,         -- files on the card that are not below DCIM
    made_at REAL NOT NULL,
    ended_at REAL,
    state TEXT NOT NULL,
    notice TEXT NOT NULL DEFAULT ''
, mount TEXT NOT NULL DEFAULT '', second_mount TEXT NOT NULL DEFAULT '', twice INTEGER NOT NULL DEFAULT 0, left_out INTEGER NOT NULL DEFAULT 0);
CREATE TABLE bringing_item (
    bringing_id INTEGER NOT NULL REFERENCES bringing(id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    path BLOB NOT NULL,               -- on the card, relative to its folder
    size INTEGER NOT NULL,
    mtime_ns INTEGER NOT NULL,
    print TEXT NOT NULL,              -- names the content, by size and samples
    name BLOB NOT NULL,               -- relative to target and second place
    state TEXT NOT NULL,
    second_state TEXT NOT NULL,
    hash TEXT,                        -- BLAKE3, of what was read and of each copy read back
    notice TEXT NOT NULL DEFAULT '',
    PRIMARY KEY (bringing_id, number)
) WITHOUT ROWID;
CREATE TABLE camera_clock (
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    camera TEXT NOT NULL,
    serial TEXT NOT NULL,
    offset_s REAL NOT NULL,
    PRIMARY KEY (shoot_id, camera, serial)
) WITHOUT ROWID;
CREATE TABLE change (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    made_at REAL NOT NULL,
    sentence TEXT NOT NULL,
    undone INTEGER NOT NULL DEFAULT 0
, group_edits TEXT NOT NULL DEFAULT '', by_hints TEXT NOT NULL DEFAULT '', by TEXT NOT NULL DEFAULT '', parent_id INTEGER REFERENCES change(id) ON DELETE SET NULL, taken_over INTEGER NOT NULL DEFAULT 0);
INSERT INTO "change" VALUES(1,1,1.79620423552706480032e+09,'picked 2 frames, 4 stars on 2 frames',0,'','','',NULL,0);
INSERT INTO "change" VALUES(2,1,1.79620423553842544555e+09,'rejected QH_0002',0,'','','',1,0);
INSERT INTO "change" VALUES(3,1,1.79620423554998016359e+09,'Parade on QH_0004',0,'','','',2,0);
INSERT INTO "change" VALUES(4,1,1.79620423556342625613e+09,'title and keywords of QH_0001',0,'','','',3,0);
INSERT INTO "change" VALUES(5,1,1.79620423558720493321e+09,'split the group at QH_0002',0,'{"new": [["split", 2, 2]], "out": []}','','',4,0);
INSERT INTO "change" VALUES(6,1,1.79620423561208248132e+09,'linked QH_0004 and QH_0005 as one picture',0,'{"new": [["link", 4, 5]], "out": []}','','',5,0);
INSERT INTO "change" VALUES(7,1,1.79620423564288306242e+09,'5 stars on QH_0003',1,'','','',6,0);
CREATE TABLE change_step (
    change_id INTEGER NOT NULL REFERENCES change(id) ON DELETE CASCADE,
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    decision_before TEXT NOT NULL,
    stars_before INTEGER NOT NULL,
    label_before TEXT,
    decision_after TEXT NOT NULL,
    stars_after INTEGER NOT NULL,
    label_after TEXT,
    PRIMARY KEY (change_id, frame_id)
) WITHOUT ROWID;
INSERT INTO "change_step" VALUES(1,1,'undecided',0,NULL,'pick',4,NULL);
INSERT INTO "change_step" VALUES(1,4,'undecided',0,NULL,'pick',4,NULL);
INSERT INTO "change_step" VALUES(2,2,'undecided',0,NULL,'reject',0,NULL);
INSERT INTO "change_step" VALUES(3,4,'pick',4,NULL,'pick',4,'R');
INSERT INTO "change_step" VALUES(6,5,'undecided',0,NULL,'pick',0,NULL);
INSERT INTO "change_step" VALUES(7,3,'undecided',0,NULL,'undecided',5,NULL);
CREATE TABLE deletion (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    made_at REAL NOT NULL,
    trashed INTEGER NOT NULL,         -- put in the system's trash instead
    frames INTEGER NOT NULL,
    files INTEGER NOT NULL,
    size INTEGER NOT NULL
);
CREATE TABLE delivery (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    target TEXT NOT NULL,
    made_at REAL NOT NULL,
    ended_at REAL,
    state TEXT NOT NULL,
    notice TEXT NOT NULL DEFAULT ''
, how TEXT NOT NULL DEFAULT 'copy' CHECK (how IN ('copy', 'move', 'link')), mount TEXT NOT NULL DEFAULT '');
INSERT INTO "delivery" VALUES(1,1,'/photographs/picks',1.79620423590906095508e+09,1.79620423593786668779e+09,'done','','copy','/');
CREATE TABLE delivery_item (
    delivery_id INTEGER NOT NULL REFERENCES delivery(id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    frame_id INTEGER NOT NULL,
    kind TEXT NOT NULL,
    source BLOB NOT NULL,             -- absolute
    name BLOB NOT NULL,               -- in the target folder
    size INTEGER NOT NULL,
    state TEXT NOT NULL DEFAULT 'planned',
    hash TEXT,
    notice TEXT NOT NULL DEFAULT '',
    PRIMARY KEY (delivery_id, number)
) WITHOUT ROWID;
INSERT INTO "delivery_item" VALUES(1,0,1,'copy',X'2F746D702F746D706D6F356E6C6F67762F466169722061742074686520717561792F51485F303030312E6A7067',X'51485F303030312E6A7067',15058,'done','d81ff991d290ab5a7be6245eeec824df4bac6177979f00fed267efa80ffae66d','');
INSERT INTO "delivery_item" VALUES(1,1,1,'sidecar',X'2F746D702F746D706D6F356E6C6F67762F466169722061742074686520717561792F51485F303030312E6A7067',X'51485F303030312E786D70',0,'done','36327ddd92c545a6001c8a02c0a170e85a4ad801779e290b2c92a17e4f3d4386','');
INSERT INTO "delivery_item" VALUES(1,2,4,'copy',X'2F746D702F746D706D6F356E6C6F67762F466169722061742074686520717561792F51485F303030342E6A7067',X'51485F303030342E6A7067',13533,'done','02d569e4ae48f7f612b17d19101edf2d91d8821ce5ea20e5106f38e124e90f9d','');
INSERT INTO "delivery_item" VALUES(1,3,4,'sidecar',X'2F746D702F746D706D6F356E6C6F67762F466169722061742074686520717561792F51485F303030342E6A7067',X'51485F303030342E786D70',0,'done','0b87b42feb88df6658216e462b8d32c9d4d2d9a6af9be3bc4922409af50be9ba','');
INSERT INTO "delivery_item" VALUES(1,4,5,'copy',X'2F746D702F746D706D6F356E6C6F67762F466169722061742074686520717561792F51485F303030352E6A7067',X'51485F303030352E6A7067',15238,'done','afedff0a3661868a878f21422cebe8e06f70951b22daa51e66052a0eaee6c8c7','');
INSERT INTO "delivery_item" VALUES(1,5,5,'sidecar',X'2F746D702F746D706D6F356E6C6F67762F466169722061742074686520717561792F51485F303030352E6A7067',X'51485F303030352E786D70',0,'done','a308f5a90790a59cefc4fe4a72a86971b24bde0b31f6dcfc96528a3ab15a77d2','');
CREATE TABLE face_list (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    faces TEXT NOT NULL
);
CREATE TABLE face_weight (
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    x REAL NOT NULL,
    y REAL NOT NULL,
    weight TEXT NOT NULL CHECK (weight IN ('most', 'none')),
    everywhere INTEGER NOT NULL DEFAULT 0,
    PRIMARY KEY (frame_id, x, y)
) WITHOUT ROWID;
CREATE TABLE focus_map (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    map BLOB NOT NULL
);
CREATE TABLE folder (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    path TEXT NOT NULL,
    notice TEXT NOT NULL DEFAULT '',  -- why it can't be read now, in words
    others TEXT NOT NULL DEFAULT '{}', companions TEXT NOT NULL DEFAULT '{}',-- the other files: number by ending, as JSON
    UNIQUE (shoot_id, path)
);
INSERT INTO "folder" VALUES(1,1,'/photographs/Fair at the quay','','{}','{}');
CREATE TABLE frame (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    folder_id INTEGER NOT NULL REFERENCES folder(id) ON DELETE CASCADE,
    path BLOB NOT NULL,               -- of the shown file, relative to the folder, as the disk has it
    name TEXT NOT NULL,               -- the same file's stem, to show
    kind TEXT NOT NULL,
    files TEXT NOT NULL,              -- how the frame's files look on disk, to notice changes
    state INTEGER NOT NULL DEFAULT 0,
    picture INTEGER NOT NULL DEFAULT 0,
    missing INTEGER NOT NULL DEFAULT 0,
    notice TEXT NOT NULL DEFAULT '',
    key TEXT,                         -- names the content of the shown file in the picture cache
    position INTEGER NOT NULL DEFAULT 0,
    taken_at REAL,                    -- seconds, the camera's own clock
    utc_offset_min INTEGER,
    camera TEXT,
    lens TEXT,
    focal_mm REAL,
    aperture REAL,
    shutter_s REAL,
    iso INTEGER,
    flash INTEGER,
    orientation INTEGER NOT NULL DEFAULT 1,
    width INTEGER,                    -- px, upright
    height INTEGER,
    likeness BLOB,
    clipped_high REAL,
    clipped_low REAL,
    brightness_ev REAL, serial TEXT, lens_serial TEXT, exposure_bias_ev REAL, drive_mode TEXT, focus_mode TEXT, focus_x REAL, focus_y REAL, latitude REAL, longitude REAL, optional_space INTEGER NOT NULL DEFAULT 0, described TEXT NOT NULL DEFAULT '{}', content_hash TEXT, shown_from TEXT NOT NULL DEFAULT 'file', close_from TEXT NOT NULL DEFAULT 'file', picture_version TEXT NOT NULL DEFAULT '', figure_version TEXT NOT NULL DEFAULT '', clipped TEXT, shot_at REAL, turned INTEGER NOT NULL DEFAULT 0 CHECK (turned BETWEEN 0 AND 3), blur_px REAL, group_no INTEGER NOT NULL DEFAULT 0, face_version TEXT NOT NULL DEFAULT '', faces INTEGER, matters_px REAL, says_more INTEGER NOT NULL DEFAULT 0, dated INTEGER NOT NULL DEFAULT 1, facts_version TEXT NOT NULL DEFAULT '', program TEXT, standing TEXT, times REAL, tied INTEGER, levels TEXT, seen INTEGER NOT NULL DEFAULT 0, smiles INTEGER NOT NULL DEFAULT 0, gazes INTEGER NOT NULL DEFAULT 0, first_likeness BLOB,
    UNIQUE (folder_id, path)
);
INSERT INTO "frame" VALUES(1,1,1,X'51485F303030312E6A7067','QH_0001','JPEG','[["QH_0001.jpg", 15058, 1796204234658447300]]',2,2,0,'','79ca2cda343ecc9b5e601a77fa9a030c',0,1781524801.0,NULL,'Quillon H2',NULL,NULL,NULL,NULL,NULL,NULL,1,480,320,X'64241460E9C9E3330010DBF9461E140A4422C64119BD3915C53300F4EFE745A10EFDFEFD3B18052A2E0BE70E0BD10D04DC1DF81DE9E644A518EE1D022804FA3E15F51ED6F806D0F10FF4F740E8E53CB6F7F7F1F33DBF070D23040816F833D9F738D1F327C4F104FAE808D7F226C517E624060B13FD3CECFF28DDF11BC407EC13F4FBDF09DE1519E807FA2ACBF916E706EF0FEB27D715F9F500F7DD01F3ED0803EA0A06E502F3F0EE0FE7F53CDD1A01F106F6DBF71EBDFB19D91BE40909E4F6E034C2FF49DD1A05F3290A16272F182219161A1E11380A0B0E1C202F172119261B19151B1921101E161D2C170F3D1F12183E1C15193A1D180B1D101519301119223F1F1E1642100807',1.39192708333333338421e-02,0.0,0.559829881722648,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,'{}','d81ff991d290ab5a7be6245eeec824df4bac6177979f00fed267efa80ffae66d','file','file','','','{"high": [0.0, 0.013919270833333334, 0.0, 0.0], "low": [0.006946614583333333, 0.030006510416666667, 0.0, 0.0]}',1781524801.0,0,1.92341064771535776856e+01,0,'',NULL,1.65827890976194112226e+01,0,1,'5',NULL,'tied',1.0,1,'[-1.688, -0.703, 0.01, 0.842, 1.44]',0,0,0,NULL);
INSERT INTO "frame" VALUES(2,1,1,X'51485F303030322E6A7067','QH_0002','JPEG','[["QH_0002.jpg", 15058, 1796204234661365613]]',2,2,0,'','9b4f980753a87db2d1b816e19a5c8909',1,1781524802.0,NULL,'Quillon H2',NULL,NULL,NULL,NULL,NULL,NULL,1,480,320,X'64241460E9C9E3330010DBF9461E140A4422C64119BD3915C53300F4EFE745A10EFDFEFD3B18052A2E0BE70E0BD10D04DC1DF81DE9E644A518EE1D022804FA3E15F51ED6F806D0F10FF4F740E8E53CB6F7F7F1F33DBF070D23040816F833D9F738D1F327C4F104FAE808D7F226C517E624060B13FD3CECFF28DDF11BC407EC13F4FBDF09DE1519E807FA2ACBF916E706EF0FEB27D715F9F500F7DD01F3ED0803EA0A06E502F3F0EE0FE7F53CDD1A01F106F6DBF71EBDFB19D91BE40909E4F6E034C2FF49DD1A05F3290A16272F182219161A1E11380A0B0E1C202F172119261B19151B1921101E161D2C170F3D1F12183E1C15193A1D180B1D101519301119223F1F1E1642100807',1.39192708333333338421e-02,0.0,0.559829881722648,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,'{}','99345802f2ce06ac79d44aa96aefaca3439bf3a683aaff011ffcb0e64d63b524','file','file','','','{"high": [0.0, 0.013919270833333334, 0.0, 0.0], "low": [0.006946614583333333, 0.030006510416666667, 0.0, 0.0]}',1781524802.0,0,1.92341064771535776856e+01,1,'',NULL,1.65827871207970218843e+01,0,1,'5',NULL,'tied',1.0,1,'[-1.688, -0.703, 0.01, 0.842, 1.44]',0,0,0,NULL);
INSERT INTO "frame" VALUES(3,1,1,X'51485F303030332E6A7067','QH_0003','JPEG','[["QH_0003.jpg", 13533, 1796204234663784361]]',2,2,0,'','04c17f60dc3ebd0bc97c825582c5c727',2,1781524803.0,NULL,'Quillon H2',NULL,NULL,NULL,NULL,NULL,NULL,1,480,320,X'B3F9E9C999992767FC3834F614D8E42AD80004FF0E27E6FA3ED901CD2008CA28F62E2EF81DE3FB08FD0AEC001110E50524FBF9D722FCD716F11D1B0124F618F11F11E6FC13FBEB15FD23F0F025EBFAFAFD0FF7140D021325F40335EB0818F70EE419F1EB24F636020819EC1EF40D0D2BEE0246F00426F106EDFCF4EC130245050C24F917E81007000E011BF2051ED9FE0DDDF7FAF60733FE0DE00EFD09EBFB1FE8F624F1EE28E0F017CFFBF4EC01150F15BE26EC2BCDF73EC7EF32F1E02CF5E61ACCFDEDEBFC02201C1315163C20251A360E102A20071B1B1E39150B2B301912441B0F1E2B191D0B29221A112B21170D2D1B1D0D2E1A160C2B231B102F1C1C1223152A1524071117',1.68033854166666669904e-02,0.0,5.03721277220816276987e-01,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,'{}','2638096e11f3e307bee6635b97ed2e46247bcbba00f9b7d4ff529d7b9d5673d3','file','file','','','{"high": [0.016803385416666667, 0.0, 0.0, 0.0], "low": [0.00904296875, 0.0092578125, 3.90625e-05, 0.0]}',1781524803.0,1,2.0781298138900258011e+01,2,'',NULL,2.08176030475732822813e+01,0,1,'5',NULL,'tied',1.0,1,'[-1.214, -0.547, 0.111, 0.802, 1.347]',0,0,0,NULL);
INSERT INTO "frame" VALUES(4,1,1,X'51485F303030342E6A7067','QH_0004','JPEG','[["QH_0004.jpg", 13533, 1796204234666180359]]',2,2,0,'','ed07a9a48078bb618b7ee319089531e1',3,1781524804.0,NULL,'Quillon H2',NULL,NULL,NULL,NULL,NULL,NULL,1,480,320,X'B3F9E9C999992767FC3834F614D8E42AD80004FF0E27E6FA3ED901CD2008CA28F62E2EF81DE3FB08FD0AEC001110E50524FBF9D722FCD716F11D1B0124F618F11F11E6FC13FBEB15FD23F0F025EBFAFAFD0FF7140D021325F40335EB0818F70EE419F1EB24F636020819EC1EF40D0D2BEE0246F00426F106EDFCF4EC130245050C24F917E81007000E011BF2051ED9FE0DDDF7FAF60733FE0DE00EFD09EBFB1FE8F624F1EE28E0F017CFFBF4EC01150F15BE26EC2BCDF73EC7EF32F1E02CF5E61ACCFDEDEBFC02201C1315163C20251A360E102A20071B1B1E39150B2B301912441B0F1E2B191D0B29221A112B21170D2D1B1D0D2E1A160C2B231B102F1C1C1223152A1524071117',1.68033854166666669904e-02,0.0,5.03721277220816276987e-01,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,'{}','02d569e4ae48f7f612b17d19101edf2d91d8821ce5ea20e5106f38e124e90f9d','file','file','','','{"high": [0.016803385416666667, 0.0, 0.0, 0.0], "low": [0.00904296875, 0.0092578125, 3.90625e-05, 0.0]}',1781524804.0,0,2.0781298138900258011e+01,2,'',NULL,2.07176372231742504941e+01,0,1,'5',NULL,'tied',1.0,1,'[-1.214, -0.547, 0.111, 0.802, 1.347]',0,0,0,NULL);
INSERT INTO "frame" VALUES(5,1,1,X'51485F303030352E6A7067','QH_0005','JPEG','[["QH_0005.jpg", 15238, 1796204234668475936]]',2,2,0,'','d772b6cbf3e4c63132600036c9584983',4,1781524805.0,NULL,'Quillon H2',NULL,NULL,NULL,NULL,NULL,NULL,1,480,320,X'6C74362169CBCCCCF34527E536C0FF0E27F5F420ECF80102F017FEECE8D725C7F91619EF1DD2F623FC00000AFCF6FDFC01F708E8F5F4DA1418CA1FFCFDEEEF31CD0B0BF10BF4FAF710D50EEFFF17BA4B1DCC00ED03EDFAF0ED03FCF301F801FFE6F2F304DBFCE92E15DAEEF6FAEB08D503F8F2F1F30AF4FAF1F2E719D5FE0A1204E2F016E3F50DE0F9F2F5EDEF20DFF634E6F623FE17FB1603CE171BD81C15ED1FFD0A1CFC14070901FF03F415FA0B0B06C23319DB391DFF3F0A2541080B2A1ECF1D0ED023DD1D031B0B211E3412191C2E11181C29081F2A2F1917182F22191731171C1D17122F1C2B17231A2B1D161D2C191317232C26143908070E280D082823201A14301B2915',0.0307421875,0.0,7.19769030248547547756e-01,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,NULL,0,'{}','afedff0a3661868a878f21422cebe8e06f70951b22daa51e66052a0eaee6c8c7','file','file','','','{"high": [0.012233072916666667, 0.017916666666666668, 0.0012565104166666666, 0.0], "low": [0.015930989583333333, 0.01224609375, 0.006927083333333334, 0.0]}',1781524805.0,0,1.84426306185994093311e+01,3,'',NULL,1.84794865471700582304e+01,0,1,'5',NULL,'',1.0,0,'[-1.359, -0.502, 0.241, 0.875, 1.462]',0,0,0,NULL);
CREATE TABLE frame_file (
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    path BLOB NOT NULL,
    role TEXT NOT NULL CHECK (role IN ('picture', 'sidecar', 'companion')),
    look TEXT NOT NULL,                 -- size and time of last change, as on disk
    read_look TEXT NOT NULL DEFAULT '', -- the same when Winnow last read or wrote it; of sidecars
    stated TEXT,
    PRIMARY KEY (frame_id, path)
) WITHOUT ROWID;
CREATE TABLE "group_edit" (
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    kind TEXT NOT NULL CHECK (kind IN ('split', 'join', 'move', 'link')),
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    other_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    PRIMARY KEY (shoot_id, kind, frame_id, other_id)
) WITHOUT ROWID;
INSERT INTO "group_edit" VALUES(1,'split',2,2);
INSERT INTO "group_edit" VALUES(1,'link',4,5);
CREATE TABLE "held_file" (
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    source BLOB NOT NULL,             -- absolute: where it was, and comes back to
    place BLOB NOT NULL,              -- absolute: where it is
    size INTEGER NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('going', 'held', 'coming', 'leaving')),
    delivery_id INTEGER REFERENCES delivery(id) ON DELETE SET NULL,
    PRIMARY KEY (frame_id, source)
) WITHOUT ROWID;
CREATE TABLE hint (
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    kind TEXT NOT NULL,
    figure REAL NOT NULL,
    words TEXT NOT NULL,
    PRIMARY KEY (frame_id, kind)
) WITHOUT ROWID;
INSERT INTO "hint" VALUES(1,'blurred',1.92530808257548642359e+01,'nothing is sharper than 19.3 px');
INSERT INTO "hint" VALUES(1,'clipped',1.39192708333333348136e+00,'1.4 % of it is clipped');
INSERT INTO "hint" VALUES(2,'blurred',1.92530808257548642359e+01,'nothing is sharper than 19.3 px');
INSERT INTO "hint" VALUES(2,'clipped',1.39192708333333348136e+00,'1.4 % of it is clipped');
INSERT INTO "hint" VALUES(3,'blurred',2.07674998379349844417e+01,'nothing is sharper than 20.8 px');
INSERT INTO "hint" VALUES(3,'clipped',1.68033854166666674068e+00,'1.7 % of it is clipped');
INSERT INTO "hint" VALUES(4,'blurred',2.07674998379349844417e+01,'nothing is sharper than 20.8 px');
INSERT INTO "hint" VALUES(4,'clipped',1.68033854166666674068e+00,'1.7 % of it is clipped');
INSERT INTO "hint" VALUES(5,'alone',7.45823264122009277343e+01,'the most similar frame is 75 of 100 away');
INSERT INTO "hint" VALUES(5,'blurred',1.84312701474001308099e+01,'nothing is sharper than 18.4 px');
INSERT INTO "hint" VALUES(5,'clipped',3.07421875,'3.1 % of it is clipped');
CREATE TABLE hint_threshold (
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    kind TEXT NOT NULL,
    threshold REAL NOT NULL,
    PRIMARY KEY (shoot_id, kind)
) WITHOUT ROWID;
CREATE TABLE judged (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    group_key TEXT NOT NULL,
    judged TEXT NOT NULL
);
CREATE TABLE label (
    letter TEXT PRIMARY KEY,
    position INTEGER NOT NULL,
    name TEXT NOT NULL,
    meaning TEXT NOT NULL,
    shape TEXT NOT NULL,
    colour TEXT NOT NULL,
    written_as TEXT NOT NULL
);
INSERT INTO "label" VALUES('R',0,'Parade','goes into the album','disc','#4080ff','Retouch');
INSERT INTO "label" VALUES('A',1,'Album','for the printed album','square','#ffaa15','Album');
INSERT INTO "label" VALUES('W',2,'Web','for the web page','triangle','#00d4aa','Web');
INSERT INTO "label" VALUES('P',3,'Print','ordered as a print','diamond','#aa406a','Print');
INSERT INTO "label" VALUES('T',4,'Talk over','to be talked over with the client','hexagon','#550055','Talk over');
CREATE TABLE last_shoot (id INTEGER NOT NULL);
INSERT INTO "last_shoot" VALUES(1);
CREATE TABLE mark (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    decision TEXT NOT NULL DEFAULT 'undecided',
    stars INTEGER NOT NULL DEFAULT 0 CHECK (stars BETWEEN 0 AND 5),
    label TEXT
, unwritten INTEGER NOT NULL DEFAULT 0);
INSERT INTO "mark" VALUES(1,'pick',4,NULL,1);
INSERT INTO "mark" VALUES(2,'reject',0,NULL,1);
INSERT INTO "mark" VALUES(3,'undecided',0,NULL,1);
INSERT INTO "mark" VALUES(4,'pick',4,'R',1);
INSERT INTO "mark" VALUES(5,'pick',0,NULL,1);
CREATE TABLE picture_before (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    taken_at REAL,
    likeness BLOB NOT NULL
);
CREATE TABLE proof (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    token TEXT NOT NULL UNIQUE,       -- names the proof in its gallery and in answers
    kind TEXT NOT NULL CHECK (kind IN ('pdf', 'gallery')),
    title TEXT NOT NULL,
    place TEXT NOT NULL,              -- the file or folder it was made as
    made_at REAL NOT NULL
);
CREATE TABLE proof_answer (
    id INTEGER PRIMARY KEY,
    proof_id INTEGER NOT NULL REFERENCES proof(id) ON DELETE CASCADE,
    client TEXT NOT NULL,
    note TEXT NOT NULL,
    read_at REAL NOT NULL,
    picks TEXT NOT NULL,              -- JSON: numbers
    comments TEXT NOT NULL            -- JSON: comment by number
);
CREATE TABLE proof_frame (
    proof_id INTEGER NOT NULL REFERENCES proof(id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    PRIMARY KEY (proof_id, number)
) WITHOUT ROWID;
CREATE TABLE renaming (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    made_at REAL NOT NULL,
    template TEXT NOT NULL,
    frames INTEGER NOT NULL,
    state TEXT NOT NULL,
    notice TEXT NOT NULL DEFAULT ''
);
CREATE TABLE renaming_step (
    renaming_id INTEGER NOT NULL REFERENCES renaming(id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    frame_id INTEGER NOT NULL,
    old BLOB NOT NULL,                -- absolute
    new BLOB NOT NULL,
    alone INTEGER NOT NULL,           -- no other step has to do with these names
    state TEXT NOT NULL CHECK (state IN ('planned', 'done')),
    PRIMARY KEY (renaming_id, number)
) WITHOUT ROWID;
CREATE TABLE saved_filter (
    name TEXT PRIMARY KEY,
    filter TEXT NOT NULL              -- JSON
);
INSERT INTO "saved_filter" VALUES('Keepers','{"decisions": ["pick"], "stars_rule": "at_least", "stars": null, "labels": [], "written": "iso<800", "where": null}');
CREATE TABLE "saved_set" (
    kind TEXT NOT NULL CHECK (kind IN ('labels', 'keys', 'texts', 'profiles', 'recipes', 'programs')),
    name TEXT NOT NULL,
    content TEXT NOT NULL,
    PRIMARY KEY (kind, name)
) WITHOUT ROWID;
INSERT INTO "saved_set" VALUES('keys','Left hand','{"pick": ["G"]}');
INSERT INTO "saved_set" VALUES('labels','Wedding','[{"letter": "R", "name": "Retouch", "meaning": "needs work before it goes out", "shape": "disc", "colour": "#4080ff", "written_as": "Retouch"}, {"letter": "A", "name": "Album", "meaning": "for the printed album", "shape": "square", "colour": "#ffaa15", "written_as": "Album"}, {"letter": "W", "name": "Web", "meaning": "for the web page", "shape": "triangle", "colour": "#00d4aa", "written_as": "Web"}, {"letter": "P", "name": "Print", "meaning": "ordered as a print", "shape": "diamond", "colour": "#aa406a", "written_as": "Print"}, {"letter": "T", "name": "Talk over", "meaning": "to be talked over with the client", "shape": "hexagon", "colour": "#550055", "written_as": "Talk over"}]');
INSERT INTO "saved_set" VALUES('profiles','Mine','{"name": "Mine", "pick_good": true, "pick_stars": 2, "pick_label": "", "reject_rating": true, "reject_label": "", "labels": {}}');
INSERT INTO "saved_set" VALUES('programs','Editor','{"command": "editor {files}", "which": "ready"}');
INSERT INTO "saved_set" VALUES('recipes','To the client','{"target": "/photographs/Fair at the quay picks", "what": "picks", "sidecars": true, "template": "{name}_{seq}", "which": "all", "how": "copy", "manifest": false, "companions": false}');
INSERT INTO "saved_set" VALUES('texts','Fair','{"put": {"city": "Saltmarsh"}, "add": ["fair"]}');
CREATE TABLE setting (
    name TEXT PRIMARY KEY,
    value TEXT NOT NULL               -- JSON
);
CREATE TABLE shoot (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    made_at REAL NOT NULL,            -- seconds since 1970, UTC
    opened_at REAL NOT NULL,
    filter TEXT NOT NULL DEFAULT '{}' -- the last one, as JSON
, keep_target INTEGER CHECK (keep_target > 0), way TEXT NOT NULL DEFAULT '' CHECK (way IN ('', 'pick_in', 'weed_out')), looseness REAL NOT NULL DEFAULT 0.5 CHECK (looseness BETWEEN 0 AND 1), hints_stale INTEGER NOT NULL DEFAULT 1, utc_offset_min INTEGER, hints_version TEXT NOT NULL DEFAULT '', archived INTEGER NOT NULL DEFAULT 0, seq_next INTEGER NOT NULL DEFAULT 1);
INSERT INTO "shoot" VALUES(1,'Test',1.79620423475074100488e+09,1.79620423475074100488e+09,'{}',3,'',0.5,1,NULL,'5',0,1);
CREATE TABLE taken_back (
    change_id INTEGER NOT NULL REFERENCES change(id) ON DELETE CASCADE,
    by_id INTEGER NOT NULL REFERENCES change(id) ON DELETE CASCADE,
    PRIMARY KEY (change_id, by_id)
) WITHOUT ROWID;
CREATE TABLE text (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    title TEXT NOT NULL,
    caption TEXT NOT NULL,
    keywords TEXT NOT NULL,
    creators TEXT NOT NULL,
    rights TEXT NOT NULL,
    location TEXT NOT NULL,
    city TEXT NOT NULL,
    state TEXT NOT NULL,
    country TEXT NOT NULL
, instructions TEXT NOT NULL DEFAULT '');
INSERT INTO "text" VALUES(1,'Lanterns','','fair
night','','','','','','','');
INSERT INTO "text" VALUES(4,'','','composite','','','','','','','');
INSERT INTO "text" VALUES(5,'','','composite','','','','','','','');
CREATE TABLE text_step (
    change_id INTEGER NOT NULL REFERENCES change(id) ON DELETE CASCADE,
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    before TEXT NOT NULL,
    after TEXT NOT NULL,
    PRIMARY KEY (change_id, frame_id)
) WITHOUT ROWID;
INSERT INTO "text_step" VALUES(4,1,'{}','{"title": "Lanterns", "keywords": ["fair", "night"]}');
INSERT INTO "text_step" VALUES(6,4,'{}','{"keywords": ["composite"]}');
INSERT INTO "text_step" VALUES(6,5,'{}','{"keywords": ["composite"]}');
CREATE TABLE verdict (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    place INTEGER NOT NULL,
    among INTEGER NOT NULL,
    best INTEGER NOT NULL,
    usable INTEGER NOT NULL,
    words TEXT NOT NULL
, together TEXT NOT NULL DEFAULT '[]');
INSERT INTO "verdict" VALUES(1,1,2,0,0,'can’t be used: soft all over; nor can any other of its group','[]');
INSERT INTO "verdict" VALUES(2,1,2,0,0,'can’t be used: soft all over; nor can any other of its group','[]');
INSERT INTO "verdict" VALUES(3,1,2,0,0,'can’t be used: soft all over; nor can any other of its group','[]');
INSERT INTO "verdict" VALUES(4,1,2,0,0,'can’t be used: soft all over; nor can any other of its group','[]');
CREATE INDEX change_step_of_frame ON change_step (frame_id);
CREATE INDEX bringing_item_by_print ON bringing_item (print);
CREATE INDEX frame_in_order ON frame (shoot_id, group_no, position);
CREATE INDEX text_step_of_frame ON text_step (frame_id);
CREATE INDEX mark_unwritten ON mark (frame_id) WHERE unwritten;
CREATE INDEX proof_frame_of_frame ON proof_frame (frame_id);
CREATE INDEX frame_zone ON frame (shoot_id, utc_offset_min) WHERE utc_offset_min IS NOT NULL;
CREATE INDEX change_of_shoot ON change (shoot_id, undone, id);
CREATE INDEX change_parent ON change (parent_id);
CREATE INDEX change_of_guests ON change (shoot_id, by) WHERE by != '' AND NOT taken_over;
CREATE INDEX taken_back_by ON taken_back (by_id);
CREATE INDEX group_edit_of_frame ON group_edit (frame_id);
CREATE INDEX group_edit_of_other ON group_edit (other_id);
DELETE FROM "sqlite_sequence";
INSERT INTO "sqlite_sequence" VALUES('change',7);
COMMIT;
PRAGMA user_version = 33;
