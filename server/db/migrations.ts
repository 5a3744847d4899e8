/** The tables, forward only. Identifiers are ULIDs; names are compared accent- and case-insensitively by the database and exactly by plans. */
const id = 'CHAR(26) CHARACTER SET ascii COLLATE ascii_bin';
const word = (length: number) => `VARCHAR(${length}) CHARACTER SET ascii COLLATE ascii_bin`;
const exact = (length: number) => `VARCHAR(${length}) COLLATE utf8mb4_bin`;
const name = (length: number) => `VARCHAR(${length}) COLLATE utf8mb4_uca1400_ai_ci`;
/** ISO 8601 in UTC with milliseconds. */
const at = 'CHAR(24) CHARACTER SET ascii COLLATE ascii_bin';

const slice = [
  // There is one: a second first run, at the same moment, meets the unique key.
  `CREATE TABLE district (id ${id} PRIMARY KEY, only TINYINT NOT NULL DEFAULT 1 UNIQUE, name ${name(200)} NOT NULL, settings LONGTEXT NOT NULL)`,
  `CREATE TABLE schools (id ${id} PRIMARY KEY, name ${name(200)} NOT NULL, code ${exact(20)} NOT NULL UNIQUE, kind ${word(20)} NOT NULL,
     lowGrade ${word(5)} NOT NULL, highGrade ${word(5)} NOT NULL)`,
  `CREATE TABLE people (id ${id} PRIMARY KEY, role ${word(10)} NOT NULL, number ${exact(40)}, givenName ${name(200)} NOT NULL, middleName ${name(200)},
     familyName ${name(200)} NOT NULL, birthDate DATE, email ${name(254)}, guardianEmail ${name(254)}, status ${word(10)} NOT NULL,
     KEY byName (familyName, givenName, id), KEY byGiven (givenName), KEY byNumber (number), KEY byBirth (birthDate))`,
  `CREATE TABLE classes (id ${id} PRIMARY KEY, schoolId ${id} NOT NULL, name ${name(120)} NOT NULL, kind ${word(10)} NOT NULL, grade ${word(5)},
     subject ${name(80)}, begins DATE NOT NULL, ends DATE, KEY bySchool (schoolId, ends, name), FOREIGN KEY (schoolId) REFERENCES schools (id))`,
  `CREATE TABLE affiliations (id ${id} PRIMARY KEY, personId ${id} NOT NULL, schoolId ${id} NOT NULL, grade ${word(5)}, begins DATE NOT NULL, ends DATE,
     KEY byPerson (personId, ends, schoolId, grade), KEY bySchool (schoolId, ends, grade, personId),
     FOREIGN KEY (personId) REFERENCES people (id), FOREIGN KEY (schoolId) REFERENCES schools (id))`,
  `CREATE TABLE enrollments (id ${id} PRIMARY KEY, personId ${id} NOT NULL, classId ${id} NOT NULL, role ${word(10)} NOT NULL, begins DATE NOT NULL, ends DATE,
     KEY byPerson (personId, ends), KEY byClass (classId, ends, role, personId),
     FOREIGN KEY (personId) REFERENCES people (id), FOREIGN KEY (classId) REFERENCES classes (id))`,
  `CREATE TABLE accounts (id ${id} PRIMARY KEY, personId ${id} NOT NULL UNIQUE, username ${word(64)} NOT NULL UNIQUE, role ${word(10)} NOT NULL,
     status ${word(10)} NOT NULL, secretSealed ${word(400)}, secretVersion INT NOT NULL, passwordHash ${word(200)}, FOREIGN KEY (personId) REFERENCES people (id))`,
  // Every username ever given, with whose it is; part of the audit trail, so undoing a plan leaves it.
  `CREATE TABLE given_usernames (username ${word(64)} PRIMARY KEY, personKey ${exact(500)} NOT NULL)`,

  `CREATE TABLE plans (id ${id} PRIMARY KEY, kind ${word(20)} NOT NULL, title ${name(300)} NOT NULL, status ${word(12)} NOT NULL, schoolId ${id}, intakeId ${id},
     createdBy ${id} NOT NULL, createdAt ${at} NOT NULL, changes INT NOT NULL, summary LONGTEXT NOT NULL, held LONGTEXT NOT NULL, releases LONGTEXT NOT NULL,
     takenOut LONGTEXT NOT NULL, waiting LONGTEXT NOT NULL, KEY byStatus (status, createdAt))`,
  `CREATE TABLE plan_chunks (planId ${id} NOT NULL, seq INT NOT NULL, kind ${word(120)} NOT NULL, changes INT NOT NULL, body LONGTEXT NOT NULL,
     PRIMARY KEY (planId, seq), FOREIGN KEY (planId) REFERENCES plans (id))`,
  `CREATE TABLE ledger (id ${id} PRIMARY KEY, planId ${id} NOT NULL, action ${word(10)} NOT NULL, byPersonId ${id}, at ${at} NOT NULL, changes INT NOT NULL,
     sentence TEXT NOT NULL, KEY byPlan (planId), FOREIGN KEY (planId) REFERENCES plans (id))`,
  `CREATE TABLE audit (id ${id} PRIMARY KEY, at ${at} NOT NULL, byPersonId ${id}, action ${word(40)} NOT NULL, aboutPersonId ${id}, detail TEXT NOT NULL,
     KEY byAbout (aboutPersonId, at))`,
  `CREATE TABLE jobs (id ${id} PRIMARY KEY, kind ${word(20)} NOT NULL, input LONGTEXT NOT NULL, status ${word(12)} NOT NULL, byPersonId ${id} NOT NULL, createdAt ${at} NOT NULL,
     done INT NOT NULL DEFAULT 0, total INT NOT NULL DEFAULT 0, step VARCHAR(200) NOT NULL DEFAULT '', result LONGTEXT, error LONGTEXT,
     leasedBy ${word(80)}, leaseUntil DATETIME(3), KEY byStatus (status, createdAt))`,

  `CREATE TABLE intakes (id ${id} PRIMARY KEY, fileName ${name(300)} NOT NULL, bytes LONGBLOB NOT NULL, size INT NOT NULL, schoolId ${id}, createdBy ${id} NOT NULL,
     createdAt ${at} NOT NULL, savedAt ${at} NOT NULL, status ${word(12)} NOT NULL, draft LONGTEXT NOT NULL, planId ${id}, KEY byStatus (status, createdAt))`,
  `CREATE TABLE sheaves (ownerId ${id} NOT NULL, personId ${id} NOT NULL, PRIMARY KEY (ownerId, personId))`,
  `CREATE TABLE prints (id ${id} PRIMARY KEY, byPersonId ${id} NOT NULL, at ${at} NOT NULL, paper ${word(10)} NOT NULL, what TEXT NOT NULL, cards INT NOT NULL,
     sealedPdf LONGBLOB, fetchUntil ${at} NOT NULL)`,
  `CREATE TABLE printed_cards (printId ${id} NOT NULL, personId ${id} NOT NULL, secretVersion INT NOT NULL, tokenHash ${word(64)} NOT NULL UNIQUE, voidedAt ${at},
     PRIMARY KEY (printId, personId), KEY byPerson (personId), FOREIGN KEY (printId) REFERENCES prints (id))`,
  `CREATE TABLE sessions (tokenHash ${word(64)} PRIMARY KEY, accountId ${id} NOT NULL, createdAt ${at} NOT NULL, expiresAt ${at} NOT NULL, KEY byAccount (accountId))`,
  `CREATE TABLE sign_ins (personId ${id} PRIMARY KEY, firstAt ${at} NOT NULL, lastAt ${at} NOT NULL, way ${word(10)} NOT NULL)`,
  `CREATE TABLE attempts (bucket ${word(160)} PRIMARY KEY, windowStart DATETIME NOT NULL, hits INT NOT NULL)`,
];

const feeds = [
  `ALTER TABLE people ADD COLUMN mergedInto ${id}, ADD KEY byMerged (mergedInto)`,
  // A source that sends again and again; its settings say where from, when, what it is about and who owns which field.
  `CREATE TABLE feeds (id ${id} PRIMARY KEY, name ${name(200)} NOT NULL UNIQUE, way ${word(10)} NOT NULL, settings LONGTEXT NOT NULL, reading LONGTEXT,
     secretSealed ${word(800)}, active TINYINT NOT NULL DEFAULT 1, createdBy ${id} NOT NULL, createdAt ${at} NOT NULL, nextRunAt ${at}, lastRunAt ${at}, lastError TEXT)`,
  `ALTER TABLE intakes ADD COLUMN feedId ${id}, ADD COLUMN contentHash ${word(64)}, ADD COLUMN matched LONGTEXT, ADD COLUMN unanswered LONGTEXT,
     ADD KEY byFeed (feedId, status, id)`,
  // What people decided of who is who; binds every later file. A row of a file is known by its content.
  `CREATE TABLE decisions (rowHash ${word(64)} NOT NULL, personId ${id} NOT NULL, rowKey ${exact(700)} NOT NULL, same TINYINT NOT NULL, byPersonId ${id} NOT NULL, at ${at} NOT NULL,
     PRIMARY KEY (rowHash, personId), KEY byPerson (personId))`,
];

const touched = [
  // A night asks for many people each in one class.
  'ALTER TABLE enrollments DROP KEY byPerson, ADD KEY byPerson (personId, classId, ends)',
  'ALTER TABLE sign_ins ADD KEY byFirst (firstAt)',
  // Who left a school lately.
  'ALTER TABLE affiliations ADD KEY byEnd (ends, personId)',
  // A sheaf that somebody keeps for later, under a name of their own.
  `CREATE TABLE kept_sheaves (id ${id} PRIMARY KEY, ownerId ${id} NOT NULL, name ${name(80)} NOT NULL, keptAt ${at} NOT NULL, UNIQUE KEY byOwner (ownerId, name))`,
  `CREATE TABLE kept_people (sheafId ${id} NOT NULL, personId ${id} NOT NULL, PRIMARY KEY (sheafId, personId), FOREIGN KEY (sheafId) REFERENCES kept_sheaves (id) ON DELETE CASCADE)`,
];

const joining = [
  // People of a class, or of several classes of a school, put together by hand or by a rule that is looked at anew each time.
  `CREATE TABLE class_groups (id ${id} PRIMARY KEY, schoolId ${id} NOT NULL, classId ${id}, name ${name(120)} NOT NULL, kind ${word(10)} NOT NULL, rule ${exact(500)},
     begins DATE NOT NULL, ends DATE, KEY bySchool (schoolId, ends, name), KEY byClass (classId, ends),
     FOREIGN KEY (schoolId) REFERENCES schools (id), FOREIGN KEY (classId) REFERENCES classes (id))`,
  `CREATE TABLE memberships (id ${id} PRIMARY KEY, personId ${id} NOT NULL, groupId ${id} NOT NULL, begins DATE NOT NULL, ends DATE,
     KEY byPerson (personId, ends), KEY byGroup (groupId, ends, personId), FOREIGN KEY (personId) REFERENCES people (id), FOREIGN KEY (groupId) REFERENCES class_groups (id))`,
  // Codes are looked up by what a key outside the database makes of them, so that a copy of the table lets nobody in.
  `CREATE TABLE join_codes (id ${id} PRIMARY KEY, kind ${word(10)} NOT NULL, schoolId ${id} NOT NULL, classId ${id}, codeMac ${word(64)} NOT NULL UNIQUE, codeSealed ${word(200)} NOT NULL,
     letters INT NOT NULL, opensAt ${at} NOT NULL, closesAt ${at} NOT NULL, usesMost INT NOT NULL, uses INT NOT NULL DEFAULT 0, endedAt ${at}, createdBy ${id} NOT NULL, createdAt ${at} NOT NULL,
     KEY byClass (classId, closesAt), KEY byClose (closesAt, endedAt))`,
  // Whoever asks to be let in, with what they said of themselves; a person decides.
  `CREATE TABLE join_requests (id ${id} PRIMARY KEY, kind ${word(10)} NOT NULL, schoolId ${id} NOT NULL, classId ${id}, codeId ${id}, familyName ${name(100)} NOT NULL, givenName ${name(100)} NOT NULL,
     number ${exact(40)}, birthDate DATE, email ${name(254)}, note ${name(300)}, askedBy ${id}, personId ${id}, at ${at} NOT NULL, status ${word(10)} NOT NULL, settledBy ${id}, settledAt ${at}, why ${name(300)},
     KEY byClass (classId, status), KEY bySchool (schoolId, status))`,
];

const reaching = [
  // What the district's directory was sent, by Sheaf's own id of the person or class; `sent`: as it was last acknowledged.
  `CREATE TABLE directory_items (id ${id} PRIMARY KEY, kind ${word(5)} NOT NULL, label ${name(250)} NOT NULL, remoteId ${exact(200)}, wantedHash ${word(64)} NOT NULL, sent LONGTEXT, sentAt ${at},
     state ${word(6)} NOT NULL, tries INT NOT NULL DEFAULT 0, lastError ${name(300)}, KEY byState (state, kind))`,
  // A link by mail with which a member of staff chooses the first password.
  `CREATE TABLE invitations (id ${id} PRIMARY KEY, tokenHash ${word(64)} NOT NULL UNIQUE, personId ${id} NOT NULL, email ${exact(254)} NOT NULL, createdBy ${id} NOT NULL, createdAt ${at} NOT NULL,
     expiresAt ${at} NOT NULL, usedAt ${at}, sentAt ${at}, lastError ${name(300)}, KEY byPerson (personId))`,
  // Who somebody is at the district's single sign-on.
  `CREATE TABLE sign_on (subject ${exact(250)} PRIMARY KEY, personId ${id} NOT NULL, at ${at} NOT NULL, KEY byPerson (personId))`,
  // Whom each applied plan was about, for a person's own history.
  `CREATE TABLE touched (personId ${id} NOT NULL, planId ${id} NOT NULL, PRIMARY KEY (personId, planId))`,
  `ALTER TABLE classes ADD COLUMN period ${name(20)}, ADD COLUMN color ${word(10)}, ADD COLUMN discuss ${word(12)}, ADD COLUMN invite ${word(12)}`,
  // Siblings are found by the address of a guardian.
  'ALTER TABLE people ADD KEY byGuardian (guardianEmail)',
  // A school's own sign-in address; the ways of signing in that it offers, null: all; and what its cards say at the foot.
  `ALTER TABLE schools ADD COLUMN door ${word(30)} UNIQUE, ADD COLUMN ways ${word(60)}, ADD COLUMN cardText ${name(60)}`,
  `CREATE TABLE contacts (id ${id} PRIMARY KEY, personId ${id} NOT NULL, name ${name(200)}, email ${name(254)}, phone ${exact(40)}, relation ${name(40)},
     KEY byPerson (personId), KEY byEmail (email), FOREIGN KEY (personId) REFERENCES people (id))`,
];

const holding = [
  `CREATE TABLE products (id ${id} PRIMARY KEY, name ${name(120)} NOT NULL, publisher ${name(120)}, edition ${name(40)}, lowGrade ${word(5)}, highGrade ${word(5)}, subject ${name(80)}, supersedes ${id},
     UNIQUE KEY byName (name, edition))`,
  // A license that names no school is the district's; one without a number of seats is site-wide.
  `CREATE TABLE licenses (id ${id} PRIMARY KEY, productId ${id} NOT NULL, schoolId ${id}, seats INT, begins DATE NOT NULL, ends DATE NOT NULL, costCents INT, orderNumber ${exact(60)}, trial TINYINT NOT NULL,
     KEY byProduct (productId, ends), FOREIGN KEY (productId) REFERENCES products (id), FOREIGN KEY (schoolId) REFERENCES schools (id))`,
  `CREATE TABLE entitlements (id ${id} PRIMARY KEY, productId ${id} NOT NULL, role ${word(10)} NOT NULL, schoolId ${id}, grade ${word(5)}, subject ${name(80)}, classId ${id}, urgency TINYINT NOT NULL, begins DATE, ends DATE,
     KEY byProduct (productId, ends), FOREIGN KEY (productId) REFERENCES products (id), FOREIGN KEY (schoolId) REFERENCES schools (id), FOREIGN KEY (classId) REFERENCES classes (id))`,
  `CREATE TABLE seats (id ${id} PRIMARY KEY, personId ${id} NOT NULL, licenseId ${id} NOT NULL, begins DATE NOT NULL, ends DATE,
     KEY byPerson (personId, ends), KEY byLicense (licenseId, ends), FOREIGN KEY (personId) REFERENCES people (id), FOREIGN KEY (licenseId) REFERENCES licenses (id))`,
  // When somebody last used a product, as the products tell.
  `CREATE TABLE last_uses (personId ${id} NOT NULL, productId ${id} NOT NULL, usedOn DATE NOT NULL, PRIMARY KEY (productId, personId), KEY byPerson (personId))`,

  `CREATE TABLE carts (id ${id} PRIMARY KEY, schoolId ${id} NOT NULL, name ${name(60)} NOT NULL, slots INT NOT NULL, room ${name(40)}, ends DATE,
     KEY bySchool (schoolId, ends, name), FOREIGN KEY (schoolId) REFERENCES schools (id))`,
  `CREATE TABLE devices (id ${id} PRIMARY KEY, tag ${exact(40)} NOT NULL UNIQUE, serial ${exact(60)}, model ${name(80)} NOT NULL, schoolId ${id} NOT NULL, boughtOn DATE, warrantyEnds DATE, updatesEnd DATE,
     \`condition\` ${word(10)} NOT NULL, cartId ${id}, slot INT, room ${name(40)}, KEY bySchool (schoolId, tag), KEY byCart (cartId, slot), KEY bySerial (serial),
     FOREIGN KEY (schoolId) REFERENCES schools (id), FOREIGN KEY (cartId) REFERENCES carts (id))`,
  `CREATE TABLE loans (id ${id} PRIMARY KEY, deviceId ${id} NOT NULL, personId ${id} NOT NULL, kind ${word(5)} NOT NULL, begins DATE NOT NULL, due DATE, ends DATE,
     KEY byDevice (deviceId, ends), KEY byPerson (personId, ends), KEY byDue (ends, due), FOREIGN KEY (deviceId) REFERENCES devices (id), FOREIGN KEY (personId) REFERENCES people (id))`,
  `CREATE TABLE bookings (id ${id} PRIMARY KEY, cartId ${id} NOT NULL, classId ${id} NOT NULL, weekday TINYINT NOT NULL, period ${name(20)} NOT NULL, begins DATE NOT NULL, ends DATE,
     KEY byCart (cartId, ends), FOREIGN KEY (cartId) REFERENCES carts (id), FOREIGN KEY (classId) REFERENCES classes (id))`,
  // The language of the family, in which cards speak beside English; and what else than the secret a card showed.
  `ALTER TABLE people ADD COLUMN language ${word(5)}`,
  `ALTER TABLE printed_cards ADD COLUMN face ${word(16)}`,
  // A place where somebody scans: what was scanned before the next scan makes sense of it, and how far its scans are booked.
  `CREATE TABLE scan_stations (id ${id} PRIMARY KEY, ownerId ${id} NOT NULL, state LONGTEXT NOT NULL, seq INT NOT NULL, said LONGTEXT NOT NULL, at ${at} NOT NULL)`,
];

const turning = [
  `CREATE TABLE school_years (id ${id} PRIMARY KEY, name ${name(40)} NOT NULL, begins DATE NOT NULL UNIQUE, ends DATE NOT NULL)`,
  // What is being decided for the next year: the roll-over's, or a grade's split into classes.
  `CREATE TABLE year_drafts (about ${word(40)} PRIMARY KEY, draft LONGTEXT NOT NULL, savedAt ${at} NOT NULL, savedBy ${id} NOT NULL)`,
];

const using = [
  `CREATE TABLE materials (id ${id} PRIMARY KEY, productId ${id} NOT NULL, title ${name(200)} NOT NULL, kind ${word(10)} NOT NULL, lowGrade ${word(5)}, highGrade ${word(5)}, subject ${name(80)},
     minutes INT, needs ${name(120)}, address ${word(300)} NOT NULL, UNIQUE KEY byAddress (productId, address), FOREIGN KEY (productId) REFERENCES products (id))`,
  `CREATE TABLE set_work (id ${id} PRIMARY KEY, classId ${id} NOT NULL, materialId ${id} NOT NULL, title ${name(200)} NOT NULL, whom ${word(6)} NOT NULL, groupId ${id}, opensAt ${at} NOT NULL, closesAt ${at},
     minutes INT, entryWord ${exact(40)}, paused TINYINT NOT NULL, answers ${word(8)} NOT NULL, ends DATE,
     KEY byClass (classId, ends), KEY byMaterial (materialId, ends), FOREIGN KEY (classId) REFERENCES classes (id), FOREIGN KEY (materialId) REFERENCES materials (id), FOREIGN KEY (groupId) REFERENCES class_groups (id))`,
  `CREATE TABLE assignees (id ${id} PRIMARY KEY, workId ${id} NOT NULL, personId ${id} NOT NULL, UNIQUE KEY byWork (workId, personId), KEY byPerson (personId),
     FOREIGN KEY (workId) REFERENCES set_work (id), FOREIGN KEY (personId) REFERENCES people (id))`,
  // What products tell of their use: by day, so that a year of a district stays small; each statement's id, so that one that is sent twice counts once.
  `CREATE TABLE product_keys (productId ${id} PRIMARY KEY, name ${word(40)} NOT NULL UNIQUE, keyHash ${word(64)} NOT NULL, createdBy ${id} NOT NULL, createdAt ${at} NOT NULL, lastAt ${at})`,
  `CREATE TABLE statements (id ${word(36)} PRIMARY KEY, contentHash ${word(64)} NOT NULL, productId ${id} NOT NULL, day DATE NOT NULL, KEY byDay (day))`,
  `CREATE TABLE use_days (productId ${id} NOT NULL, day DATE NOT NULL, personId ${id} NOT NULL, times INT NOT NULL, seconds INT NOT NULL, PRIMARY KEY (productId, day, personId), KEY byPerson (personId, day))`,
  `CREATE TABLE results (materialId ${id} NOT NULL, personId ${id} NOT NULL, at ${at} NOT NULL, finished TINYINT NOT NULL, permille INT, seconds INT, PRIMARY KEY (materialId, personId, at), KEY byPerson (personId, at))`,
  `CREATE TABLE levels (productId ${id} NOT NULL, skill ${name(120)} NOT NULL, personId ${id} NOT NULL, band TINYINT NOT NULL, seenOn DATE NOT NULL, PRIMARY KEY (productId, skill, personId), KEY byPerson (personId))`,
  // Whom a product names and nobody here is called so.
  `CREATE TABLE use_strays (productId ${id} NOT NULL, who ${exact(254)} NOT NULL, times INT NOT NULL, lastOn DATE NOT NULL, PRIMARY KEY (productId, who))`,
  // Which classes each applied plan was about, as `touched` has people.
  `CREATE TABLE touched_classes (classId ${id} NOT NULL, planId ${id} NOT NULL, PRIMARY KEY (classId, planId))`,
  // How ready each school was, day by day; and who has had the week's letter.
  `CREATE TABLE readiness_days (day DATE NOT NULL, schoolId ${id} NOT NULL, link ${word(10)} NOT NULL, ready INT NOT NULL, people INT NOT NULL, PRIMARY KEY (schoolId, day, link))`,
  `CREATE TABLE digests (week DATE NOT NULL, personId ${id} NOT NULL, sentAt ${at} NOT NULL, PRIMARY KEY (week, personId))`,
];

const covering = [
  // What a night asks of enrollments is in the index itself.
  'ALTER TABLE enrollments DROP KEY byPerson, ADD KEY byPerson (personId, classId, ends, role)',
];

const guarding = [
  // A request may ask a child's present school to let the child change to another one.
  `ALTER TABLE join_requests ADD COLUMN toSchoolId ${id}, ADD COLUMN grade ${word(5)}`,
  // Students of other schools whom a file names: asked for when its plan is applied.
  'ALTER TABLE intakes ADD COLUMN transfers LONGTEXT',
  // What somebody is told on Today, once.
  `CREATE TABLE notices (id ${id} PRIMARY KEY, personId ${id} NOT NULL, at ${at} NOT NULL, words ${exact(500)} NOT NULL, KEY byPerson (personId, at))`,
  // What somebody is typing, by the name of the form; gone when it is done.
  `CREATE TABLE drafts (personId ${id} NOT NULL, name ${word(60)} NOT NULL, body LONGTEXT NOT NULL, savedAt ${at} NOT NULL, PRIMARY KEY (personId, name))`,
  // Sessions have an id to be ended by, where they are used from, and when the password was typed last.
  `ALTER TABLE sessions ADD COLUMN id ${id}, ADD COLUMN lastAt ${at}, ADD COLUMN freshAt ${at}, ADD COLUMN way ${word(10)}, ADD COLUMN browser ${exact(200)}, ADD COLUMN address ${word(45)},
     ADD KEY byId (id), ADD KEY byExpiry (expiresAt)`,
  'UPDATE sessions SET id = LEFT(tokenHash, 26), lastAt = createdAt WHERE id IS NULL',
  // Browsers in which somebody signed in before: their wrong attempts are counted apart from everybody else's.
  `CREATE TABLE known_browsers (tokenHash ${word(64)} PRIMARY KEY, accountId ${id} NOT NULL, lastAt ${at} NOT NULL, KEY byAccount (accountId), KEY byLast (lastAt))`,
  // A link by mail with which a member of staff who forgot the password chooses a new one.
  `CREATE TABLE password_links (tokenHash ${word(64)} PRIMARY KEY, accountId ${id} NOT NULL, createdAt ${at} NOT NULL, expiresAt ${at} NOT NULL, usedAt ${at}, KEY byAccount (accountId))`,
  // Second factors: passkeys, an app's codes, and codes on paper for when both are lost.
  `CREATE TABLE passkeys (id ${id} PRIMARY KEY, accountId ${id} NOT NULL, credentialId ${word(500)} NOT NULL UNIQUE, publicKey VARBINARY(1000) NOT NULL, counter BIGINT NOT NULL, transports ${word(100)}, name ${name(60)} NOT NULL,
     createdAt ${at} NOT NULL, lastAt ${at}, KEY byAccount (accountId))`,
  `CREATE TABLE app_codes (accountId ${id} PRIMARY KEY, secretSealed ${word(400)} NOT NULL, confirmedAt ${at}, lastStep BIGINT NOT NULL DEFAULT 0)`,
  `CREATE TABLE recovery_codes (accountId ${id} NOT NULL, codeHash ${word(64)} NOT NULL, usedAt ${at}, PRIMARY KEY (accountId, codeHash))`,
  // What a sign-in waits for between its two steps, and what a passkey is asked to sign.
  `CREATE TABLE challenges (tokenHash ${word(64)} PRIMARY KEY, accountId ${id}, purpose ${word(12)} NOT NULL, body ${word(300)} NOT NULL, expiresAt ${at} NOT NULL, KEY byExpiry (expiresAt))`,
  // Keys by which the database's secrets are sealed: what tells one from another, never the key.
  `CREATE TABLE seal_keys (id ${word(16)} PRIMARY KEY, createdAt ${at} NOT NULL, retiredAt ${at})`,
  // A bucket holds attempts until a moment. What was counted before is forgotten.
  'DROP TABLE attempts',
  `CREATE TABLE attempts (bucket ${word(160)} PRIMARY KEY, until DATETIME NOT NULL, hits INT NOT NULL, KEY byUntil (until))`,
];

/** Open ones alone are told apart by a key: MariaDB takes any number of nulls. */
const isOpen = 'ADD COLUMN isOpen TINYINT GENERATED ALWAYS AS (IF(ends IS NULL, 1, NULL)) VIRTUAL';

const holdingOnce = [
  // What stood twice before a key forbade it: the enrollment that came first stays, and the loan that came last.
  `UPDATE enrollments e JOIN enrollments o ON o.personId = e.personId AND o.classId = e.classId AND o.ends IS NULL AND o.id < e.id SET e.ends = e.begins WHERE e.ends IS NULL`,
  `UPDATE loans l JOIN loans o ON o.deviceId = l.deviceId AND o.ends IS NULL AND o.id > l.id SET l.ends = GREATEST(l.begins, o.begins) WHERE l.ends IS NULL`,
  `ALTER TABLE enrollments ${isOpen}, ADD UNIQUE KEY oneEnrollment (personId, classId, isOpen)`,
  `ALTER TABLE loans ${isOpen}, ADD UNIQUE KEY oneLoan (deviceId, isOpen)`,
  // What a row holds by itself, where its own table cannot say so: a student's number, the homeroom of a student.
  `CREATE TABLE claims (kind ${word(10)} NOT NULL, what ${exact(40)} NOT NULL, personId ${id} NOT NULL, rowId ${id} NOT NULL, PRIMARY KEY (kind, what), KEY byRow (rowId, kind), KEY byPerson (personId))`,
  "INSERT INTO claims (kind, what, personId, rowId) SELECT 'number', number, MIN(id), MIN(id) FROM people WHERE role = 'student' AND status = 'active' AND number IS NOT NULL GROUP BY number",
  `INSERT INTO claims (kind, what, personId, rowId) SELECT 'homeroom', e.personId, e.personId, MIN(e.id) FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom'
     WHERE e.role = 'student' AND e.ends IS NULL GROUP BY e.personId`,
  // Written before something is counted (a product's seats, the coordinators), so that two plans at once count one after the other.
  `CREATE TABLE counted (what ${word(30)} PRIMARY KEY, times BIGINT NOT NULL)`,
  // Whose a username is, also after their number was corrected.
  `ALTER TABLE given_usernames ADD COLUMN personId ${id}, ADD KEY byPerson (personId)`,
  'UPDATE given_usernames g JOIN accounts a ON a.username = g.username SET g.personId = a.personId',
  // Grows with each entry of the ledger and each print: what is new is asked for since a version, never since a time.
  'CREATE TABLE register (only TINYINT PRIMARY KEY DEFAULT 1, version BIGINT NOT NULL)',
  'ALTER TABLE ledger ADD COLUMN version BIGINT NOT NULL DEFAULT 0',
  'UPDATE ledger l JOIN (SELECT id, ROW_NUMBER() OVER (ORDER BY id) AS place FROM ledger) x ON x.id = l.id SET l.version = x.place',
  'ALTER TABLE ledger ADD UNIQUE KEY byVersion (version)',
  'ALTER TABLE prints ADD COLUMN version BIGINT NOT NULL DEFAULT 0, ADD KEY byVersion (version)',
  // The version that a plan was made at: what is in its way came after it.
  'ALTER TABLE plans ADD COLUMN version BIGINT NOT NULL DEFAULT 0',
  'INSERT INTO register (only, version) SELECT 1, COUNT(*) FROM ledger',
];

const calling = [`ALTER TABLE people ADD COLUMN preferredName ${name(200)} AFTER middleName`];

/** Before districts had a zone, days were those of the server's. */
const serverZone = Intl.DateTimeFormat().resolvedOptions().timeZone;
const dating = [
  `ALTER TABLE district ADD COLUMN zone ${word(64)} NOT NULL DEFAULT '${serverZone}'`,
  'ALTER TABLE district ALTER COLUMN zone DROP DEFAULT',
  `CREATE TABLE terms (id ${id} PRIMARY KEY, yearId ${id} NOT NULL, name ${name(60)} NOT NULL, begins DATE NOT NULL, ends DATE NOT NULL, FOREIGN KEY (yearId) REFERENCES school_years (id))`,
  `CREATE TABLE days_off (id ${id} PRIMARY KEY, yearId ${id} NOT NULL, name ${name(60)} NOT NULL, begins DATE NOT NULL, ends DATE NOT NULL, FOREIGN KEY (yearId) REFERENCES school_years (id))`,
  // The first year stood in the settings.
  `INSERT INTO school_years (id, name, begins, ends) SELECT '00000000000000000000000001', JSON_VALUE(settings, '$.year.name'), JSON_VALUE(settings, '$.year.begins'), JSON_VALUE(settings, '$.year.ends') FROM district
     WHERE JSON_VALUE(settings, '$.year.begins') IS NOT NULL AND NOT EXISTS (SELECT 1 FROM school_years y WHERE y.begins = JSON_VALUE(settings, '$.year.begins'))`,
];

/** Each key slows applying down, and only purges and the export of one person used these. */
const lighter = [
  'ALTER TABLE given_usernames DROP KEY byPerson',
  'ALTER TABLE enrollments DROP KEY byPerson',
  'ALTER TABLE claims DROP KEY byPerson',
];

const numbering = [
  // `letGo`: within a plan, numbers pass from one student to another. Of two who had the same before a key forbade it, the first one holds it.
  `ALTER TABLE people ADD COLUMN letGo TINYINT, ADD COLUMN isHeld TINYINT GENERATED ALWAYS AS (IF(role = 'student' AND status = 'active' AND letGo IS NULL, 1, NULL)) VIRTUAL`,
  `UPDATE people p JOIN claims c ON c.kind = 'number' AND c.what = p.number AND c.rowId <> p.id SET p.letGo = 1 WHERE p.role = 'student' AND p.status = 'active'`,
  'ALTER TABLE people DROP KEY byNumber, ADD UNIQUE KEY oneNumber (number, isHeld)',
  `CREATE TABLE homerooms (personId ${id} PRIMARY KEY, enrollmentId ${id} NOT NULL)`,
  "INSERT INTO homerooms (personId, enrollmentId) SELECT personId, rowId FROM claims WHERE kind = 'homeroom'",
  'DROP TABLE claims',
];

const preferring = [`CREATE TABLE preferences (personId ${id} PRIMARY KEY, body LONGTEXT NOT NULL)`];

/** What is said is kept as a key with what it is told, which is longer than the text. */
const saying = [
  `ALTER TABLE plans MODIFY title ${name(2000)} NOT NULL`,
  `ALTER TABLE notices MODIFY words ${exact(2000)} NOT NULL`,
  "ALTER TABLE jobs MODIFY step VARCHAR(1000) NOT NULL DEFAULT ''",
  `ALTER TABLE invitations MODIFY lastError ${name(1000)}`,
  `ALTER TABLE directory_items MODIFY lastError ${name(1000)}`,
];

/** The lines of an import that its plan leaves out, as a JSON list: they can be resolved after it was applied. */
const continuing = ['ALTER TABLE plans ADD COLUMN waits LONGTEXT, ADD KEY byIntake (intakeId, status)'];

/** By the shape of a file: how a person said that it is read. */
const recognizing = [
  `CREATE TABLE readings (shape ${word(64)} PRIMARY KEY, body LONGTEXT NOT NULL, usedAt ${at} NOT NULL, KEY byUse (usedAt))`,
];

/** Until when work is expected, apart from when it closes. */
const expecting = [`ALTER TABLE set_work ADD COLUMN dueAt ${at}`];

/** Rules for several schools, grades, subjects and classes, with exceptions. */
const ruling = ['ALTER TABLE entitlements ADD COLUMN terms TEXT'];

/** What a class may open without being assigned it; what is expected of a class, and of one student of it. */
const goals = [
  'ALTER TABLE set_work ADD COLUMN library TINYINT',
  'ALTER TABLE classes ADD COLUMN goalMinutes INT, ADD COLUMN goalShare INT',
  'ALTER TABLE enrollments ADD COLUMN goalMinutes INT, ADD COLUMN goalShare INT',
];

/** The first run gave its school an identifier that nobody had said, by which a roster could mean another one. */
const identifying = [
  `ALTER TABLE schools MODIFY COLUMN code ${exact(20)}`,
  `UPDATE schools JOIN (SELECT MIN(id) AS id FROM schools) first ON first.id = schools.id SET code = NULL
     WHERE code = 'S1' AND EXISTS (SELECT 1 FROM plans WHERE title = 'First run')`,
];

const noting = [
  `CREATE TABLE placement_notes (personId ${id} PRIMARY KEY, level ${word(20)}, support TINYINT, byPersonId ${id}, at ${at} NOT NULL, KEY (byPersonId))`,
];

const signingIn = [
  `CREATE TABLE sign_in_days (day DATE NOT NULL, personId ${id} NOT NULL, PRIMARY KEY (day, personId), KEY (personId))`,
];

const missing = [
  // Words, or other small things asked for one by one, that somebody missed; known since where `knownAt` is later.
  `CREATE TABLE missed_words (productId ${id} NOT NULL, word ${name(120)} NOT NULL, personId ${id} NOT NULL, times INT NOT NULL, missedAt ${at} NOT NULL, knownAt ${at}, PRIMARY KEY (productId, word, personId), KEY byPerson (personId), KEY byMissed (missedAt))`,
];

export interface Migration {
  name: string;
  statements: readonly string[];
}

export const migrations: Migration[] = [
  { name: '001-register-plans-intake-cards', statements: slice },
  { name: '002-feeds-decisions-merges', statements: feeds },
  { name: '003-enrollments-by-person-and-class', statements: touched },
  { name: '004-groups-codes-requests', statements: joining },
  { name: '005-directory-invitations-doors-contacts', statements: reaching },
  { name: '006-licenses-devices', statements: holding },
  { name: '007-years', statements: turning },
  { name: '008-materials-use-readiness', statements: using },
  { name: '009-enrollments-by-person-covering', statements: covering },
  { name: '010-sessions-factors-drafts-keys', statements: guarding },
  { name: '011-once-only-register-version', statements: holdingOnce },
  { name: '012-preferred-names', statements: calling },
  { name: '013-time-zone-terms-days-off', statements: dating },
  { name: '014-fewer-keys', statements: lighter },
  { name: '015-numbers-held-by-a-key', statements: numbering },
  { name: '016-preferences', statements: preferring },
  { name: '017-texts-by-key', statements: saying },
  { name: '018-imports-continued', statements: continuing },
  { name: '019-readings-by-shape', statements: recognizing },
  { name: '020-assignments-due', statements: expecting },
  { name: '021-rules-of-several', statements: ruling },
  { name: '022-libraries-goals', statements: goals },
  { name: '023-schools-without-identifier', statements: identifying },
  { name: '024-notes-for-next-year', statements: noting },
  { name: '025-days-of-signing-in', statements: signingIn },
  { name: '026-words-missed', statements: missing },
];
