import type { MigrationInterface, QueryRunner } from 'typeorm'

/** First shape of the database. Logs are compressed columns, one row per channel; the logbook and the readings refuse change by trigger. */
class Initial1764000000000 implements MigrationInterface {
  name = 'Initial1764000000000'

  async up(db: QueryRunner): Promise<void> {
    const table = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'
    await db.query(`CREATE TABLE build (
      id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, title VARCHAR(120) NOT NULL, version INT NOT NULL, revision INT NOT NULL DEFAULT 1,
      facts MEDIUMTEXT NOT NULL CHECK (JSON_VALID(facts)), choices MEDIUMTEXT NOT NULL CHECK (JSON_VALID(choices)),
      created_at DATETIME(3) NOT NULL, updated_at DATETIME(3) NOT NULL) ${table}`)
    await db.query(`CREATE TABLE reading (
      seq BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY, id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE,
      build_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, kind VARCHAR(40) NOT NULL, value MEDIUMTEXT NOT NULL CHECK (JSON_VALID(value)),
      instrument VARCHAR(80) NULL, who VARCHAR(80) NOT NULL, taken_at DATETIME(3) NOT NULL, conditions VARCHAR(400) NULL,
      supersedes CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL, received_at DATETIME(3) NOT NULL,
      KEY reading_by_build (build_id, taken_at), FOREIGN KEY (build_id) REFERENCES build (id)) ${table}`)
    await db.query(`CREATE TABLE tune (
      id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, build_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      number INT NOT NULL, name VARCHAR(120) NOT NULL, status VARCHAR(20) NOT NULL, origin VARCHAR(20) NOT NULL,
      parent_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL, log_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL,
      document MEDIUMBLOB NOT NULL, problems MEDIUMTEXT NOT NULL CHECK (JSON_VALID(problems)), created_by VARCHAR(80) NOT NULL,
      created_at DATETIME(3) NOT NULL, in_car_since DATETIME(3) NULL,
      UNIQUE KEY tune_number (build_id, number), FOREIGN KEY (build_id) REFERENCES build (id)) ${table}`)
    await db.query(`CREATE TABLE log (
      id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, build_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      name VARCHAR(200) NOT NULL, source VARCHAR(20) NOT NULL, row_count INT NOT NULL, duration_s DOUBLE NOT NULL,
      rejected MEDIUMTEXT NOT NULL CHECK (JSON_VALID(rejected)), mapping MEDIUMTEXT NOT NULL CHECK (JSON_VALID(mapping)), fingerprint VARCHAR(16) NOT NULL,
      created_by VARCHAR(80) NOT NULL, created_at DATETIME(3) NOT NULL,
      KEY log_by_build (build_id, created_at), FOREIGN KEY (build_id) REFERENCES build (id)) ${table}`)
    await db.query(`CREATE TABLE log_channel (
      log_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, channel VARCHAR(40) NOT NULL, data LONGBLOB NOT NULL,
      PRIMARY KEY (log_id, channel), FOREIGN KEY (log_id) REFERENCES log (id)) ${table}`)
    await db.query(`CREATE TABLE logbook (
      seq BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY, build_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, at DATETIME(3) NOT NULL,
      who VARCHAR(80) NOT NULL, kind VARCHAR(40) NOT NULL, summary VARCHAR(400) NOT NULL, detail MEDIUMTEXT NOT NULL CHECK (JSON_VALID(detail)),
      KEY logbook_by_build (build_id, seq), FOREIGN KEY (build_id) REFERENCES build (id)) ${table}`)
    await db.query(
      `CREATE TABLE log_mapping (fingerprint VARCHAR(16) NOT NULL PRIMARY KEY, mapping MEDIUMTEXT NOT NULL CHECK (JSON_VALID(mapping)), used_at DATETIME(3) NOT NULL) ${table}`,
    )
    await db.query(`CREATE TABLE meta (name VARCHAR(40) NOT NULL PRIMARY KEY, value VARCHAR(200) NOT NULL) ${table}`)
    for (const name of ['logbook', 'reading'])
      for (const action of ['UPDATE', 'DELETE'])
        await db.query(
          `CREATE TRIGGER ${name}_no_${action.toLowerCase()} BEFORE ${action} ON ${name} FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = '${name} is append-only'`,
        )
  }

  async down(db: QueryRunner): Promise<void> {
    for (const name of ['meta', 'log_mapping', 'logbook', 'log_channel', 'log', 'tune', 'reading', 'build'])
      await db.query(`DROP TABLE ${name}`)
  }
}

/** Photos and files of a build. A removed one keeps its row and content: the logbook still names it. */
class Files1764100000000 implements MigrationInterface {
  name = 'Files1764100000000'

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE attached_file (
      id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, build_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      item VARCHAR(80) NOT NULL, name VARCHAR(200) NOT NULL, type VARCHAR(40) NOT NULL, size INT NOT NULL, data LONGBLOB NOT NULL, thumb MEDIUMBLOB NULL,
      who VARCHAR(80) NOT NULL, created_at DATETIME(3) NOT NULL, removed_at DATETIME(3) NULL,
      KEY file_by_build (build_id, created_at), FOREIGN KEY (build_id) REFERENCES build (id)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`)
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE attached_file')
  }
}

/** The version of the documents in a row, so that older ones can be led to today's shape on reading. What was there before is of version 1. */
class SchemaVersions1764200000000 implements MigrationInterface {
  name = 'SchemaVersions1764200000000'

  async up(db: QueryRunner): Promise<void> {
    for (const table of ['build', 'reading', 'tune'])
      await db.query(`ALTER TABLE ${table} ADD COLUMN IF NOT EXISTS schema_version SMALLINT NOT NULL DEFAULT 1`)
  }

  async down(db: QueryRunner): Promise<void> {
    for (const table of ['build', 'reading', 'tune']) await db.query(`ALTER TABLE ${table} DROP COLUMN schema_version`)
  }
}

const NO_UPDATE = `CREATE TRIGGER reading_no_update BEFORE UPDATE ON reading FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'reading is append-only'`

/** Evidence: the order of a build's entries, who or what witnessed each, and what a proof was taken on. Those from before tell their source by their instrument. */
class Evidence1764300000000 implements MigrationInterface {
  name = 'Evidence1764300000000'

  async up(db: QueryRunner): Promise<void> {
    await db.query(`ALTER TABLE reading
      ADD COLUMN IF NOT EXISTS build_seq INT NULL, ADD COLUMN IF NOT EXISTS source VARCHAR(10) NOT NULL DEFAULT 'person',
      ADD COLUMN IF NOT EXISTS seen INT NULL, ADD COLUMN IF NOT EXISTS client VARCHAR(64) NULL, ADD COLUMN IF NOT EXISTS client_seq INT NULL,
      ADD COLUMN IF NOT EXISTS basis MEDIUMTEXT NULL CHECK (basis IS NULL OR JSON_VALID(basis))`)
    await db.query(`ALTER TABLE log ADD COLUMN IF NOT EXISTS file_hash CHAR(64) CHARACTER SET ascii NULL,
      ADD COLUMN IF NOT EXISTS tune_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NULL`)
    await db.query('DROP TRIGGER IF EXISTS reading_no_update')
    await db.query(`UPDATE reading JOIN (SELECT seq, ROW_NUMBER() OVER (PARTITION BY build_id ORDER BY seq) AS place FROM reading) AS placed USING (seq)
      SET reading.build_seq = placed.place, reading.source = IF(reading.instrument LIKE 'bench%', 'bench', 'person')`)
    await db.query(NO_UPDATE)
    await db.query('ALTER TABLE reading MODIFY build_seq INT NOT NULL, ADD UNIQUE KEY reading_order (build_id, build_seq)')
  }

  async down(db: QueryRunner): Promise<void> {
    // the foreign key leans on the order's index until another carries it: reading_by_build does
    await db.query('ALTER TABLE reading DROP KEY reading_order')
    for (const column of ['file_hash', 'tune_id']) await db.query(`ALTER TABLE log DROP COLUMN ${column}`)
    for (const column of ['build_seq', 'source', 'seen', 'client', 'client_seq', 'basis'])
      await db.query(`ALTER TABLE reading DROP COLUMN ${column}`)
  }
}

/** Verdicts keep what they were worked out from; a log its highest speed and pressure; a repeated write its first answer. */
class Verdicts1764400000000 implements MigrationInterface {
  name = 'Verdicts1764400000000'

  async up(db: QueryRunner): Promise<void> {
    await db.query(
      'ALTER TABLE reading ADD COLUMN IF NOT EXISTS worked_from MEDIUMTEXT NULL CHECK (worked_from IS NULL OR JSON_VALID(worked_from))',
    )
    await db.query('ALTER TABLE log ADD COLUMN IF NOT EXISTS top_rpm DOUBLE NULL, ADD COLUMN IF NOT EXISTS top_map_kpa DOUBLE NULL')
    await db.query(`CREATE TABLE IF NOT EXISTS event (
      id VARCHAR(80) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, request CHAR(64) CHARACTER SET ascii NOT NULL,
      status SMALLINT NOT NULL, type VARCHAR(80) NULL, answer MEDIUMBLOB NOT NULL, at DATETIME(3) NOT NULL, KEY event_by_age (at))
      ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`)
  }

  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE event')
    for (const column of ['top_rpm', 'top_map_kpa']) await db.query(`ALTER TABLE log DROP COLUMN ${column}`)
    await db.query('ALTER TABLE reading DROP COLUMN worked_from')
  }
}

/** Who works here, where they are signed in, and codes that sign in once. People are never deleted: their entries name them. */
class People1764500000000 implements MigrationInterface {
  name = 'People1764500000000'

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE IF NOT EXISTS person (
      id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, name VARCHAR(80) NOT NULL, role VARCHAR(10) NOT NULL,
      secret VARCHAR(200) NULL, created_at DATETIME(3) NOT NULL, left_at DATETIME(3) NULL, UNIQUE KEY person_name (name))
      ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`)
    await db.query(`CREATE TABLE IF NOT EXISTS sign_in (
      id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, token_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      previous_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL, person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      device VARCHAR(120) NOT NULL, created_at DATETIME(3) NOT NULL, seen_at DATETIME(3) NOT NULL, rotated_at DATETIME(3) NOT NULL,
      sets_secret TINYINT(1) NOT NULL, UNIQUE KEY sign_in_token (token_hash), KEY sign_in_previous (previous_hash), KEY sign_in_person (person_id))
      ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`)
    await db.query(`CREATE TABLE IF NOT EXISTS one_time_code (
      hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, person_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      sets_secret TINYINT(1) NOT NULL, expires_at DATETIME(3) NOT NULL)
      ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`)
  }

  async down(db: QueryRunner): Promise<void> {
    for (const table of ['one_time_code', 'sign_in', 'person']) await db.query(`DROP TABLE ${table}`)
  }
}

/** Units as the shop knows them, used again on the next car. */
class UnitProfiles1764600000000 implements MigrationInterface {
  name = 'UnitProfiles1764600000000'

  async up(db: QueryRunner): Promise<void> {
    await db.query(`CREATE TABLE IF NOT EXISTS unit_profile (
      id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY, name VARCHAR(60) NOT NULL,
      document MEDIUMTEXT NOT NULL CHECK (JSON_VALID(document)), who VARCHAR(80) NOT NULL, updated_at DATETIME(3) NOT NULL,
      UNIQUE KEY unit_profile_name (name)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`)
  }
  async down(db: QueryRunner): Promise<void> {
    await db.query('DROP TABLE unit_profile')
  }
}

export const migrations = [
  Initial1764000000000,
  Files1764100000000,
  SchemaVersions1764200000000,
  Evidence1764300000000,
  Verdicts1764400000000,
  People1764500000000,
  UnitProfiles1764600000000,
]
