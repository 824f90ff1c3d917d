import { EntitySchema } from 'typeorm'

export interface BuildRow {
  /** of the documents in it */
  schemaVersion: number
  id: string
  title: string
  version: number
  /** rises with every write to the build or anything of it; `version` only with title, facts and choices */
  revision: number
  facts: string
  choices: string
  createdAt: Date
  updatedAt: Date
}
export interface ReadingRow {
  /** of the documents in it */
  schemaVersion: number
  seq: number
  id: string
  buildId: string
  kind: string
  value: string
  instrument: string | null
  who: string
  takenAt: Date
  conditions: string | null
  supersedes: string | null
  receivedAt: Date
  /** place in the build's order, without gaps */
  buildSeq: number
  source: string
  seen: number | null
  client: string | null
  clientSeq: number | null
  basis: string | null
  /** of a verdict: what the server worked it out from */
  workedFrom: string | null
}
export interface TuneRow {
  /** of the documents in it */
  schemaVersion: number
  id: string
  buildId: string
  number: number
  name: string
  status: string
  origin: string
  parentId: string | null
  logId: string | null
  document: Buffer
  problems: string
  createdBy: string
  createdAt: Date
  inCarSince: Date | null
}
export interface LogRow {
  id: string
  buildId: string
  name: string
  source: string
  rows: number
  durationS: number
  rejected: string
  mapping: string
  fingerprint: string
  createdBy: string
  createdAt: Date
  /** SHA-256 of the file; null for a trace of the bench, and from before it was kept */
  fileHash: string | null
  /** the tune it was driven on; null: not known */
  tuneId: string | null
  /** highest speed and manifold pressure in it; null from before they were kept */
  topRpm: number | null
  topMapKpa: number | null
}
export interface LogChannelRow {
  logId: string
  channel: string
  data: Buffer
}
export interface LogbookRow {
  seq: number
  buildId: string
  at: Date
  who: string
  kind: string
  summary: string
  detail: string
}
export interface MappingRow {
  fingerprint: string
  mapping: string
  usedAt: Date
}

const uuid = { type: 'char', length: 36 } as const
const json = { type: 'mediumtext' } as const
const moment = { type: 'datetime', precision: 3 } as const

export const BuildEntity = new EntitySchema<BuildRow>({
  name: 'build',
  columns: {
    schemaVersion: { name: 'schema_version', type: 'smallint' },
    id: { ...uuid, primary: true },
    title: { type: 'varchar', length: 120 },
    version: { type: 'int' },
    revision: { type: 'int' },
    facts: json,
    choices: json,
    createdAt: { ...moment, name: 'created_at' },
    updatedAt: { ...moment, name: 'updated_at' },
  },
})
export const ReadingEntity = new EntitySchema<ReadingRow>({
  name: 'reading',
  columns: {
    schemaVersion: { name: 'schema_version', type: 'smallint' },
    seq: { type: 'bigint', primary: true, generated: 'increment' },
    id: uuid,
    buildId: { ...uuid, name: 'build_id' },
    kind: { type: 'varchar', length: 40 },
    value: json,
    instrument: { type: 'varchar', length: 80, nullable: true },
    who: { type: 'varchar', length: 80 },
    takenAt: { ...moment, name: 'taken_at' },
    conditions: { type: 'varchar', length: 400, nullable: true },
    supersedes: { ...uuid, nullable: true },
    receivedAt: { ...moment, name: 'received_at' },
    buildSeq: { name: 'build_seq', type: 'int' },
    source: { type: 'varchar', length: 10 },
    seen: { type: 'int', nullable: true },
    client: { type: 'varchar', length: 64, nullable: true },
    clientSeq: { name: 'client_seq', type: 'int', nullable: true },
    basis: { ...json, nullable: true },
    workedFrom: { ...json, name: 'worked_from', nullable: true },
  },
})
export const TuneEntity = new EntitySchema<TuneRow>({
  name: 'tune',
  columns: {
    schemaVersion: { name: 'schema_version', type: 'smallint' },
    id: { ...uuid, primary: true },
    buildId: { ...uuid, name: 'build_id' },
    number: { type: 'int' },
    name: { type: 'varchar', length: 120 },
    status: { type: 'varchar', length: 20 },
    origin: { type: 'varchar', length: 20 },
    parentId: { ...uuid, name: 'parent_id', nullable: true },
    logId: { ...uuid, name: 'log_id', nullable: true },
    document: { type: 'mediumblob' },
    problems: json,
    createdBy: { type: 'varchar', length: 80, name: 'created_by' },
    createdAt: { ...moment, name: 'created_at' },
    inCarSince: { ...moment, name: 'in_car_since', nullable: true },
  },
})
export const LogEntity = new EntitySchema<LogRow>({
  name: 'log',
  columns: {
    id: { ...uuid, primary: true },
    buildId: { ...uuid, name: 'build_id' },
    name: { type: 'varchar', length: 200 },
    source: { type: 'varchar', length: 20 },
    rows: { type: 'int', name: 'row_count' },
    durationS: { type: 'double', name: 'duration_s' },
    rejected: json,
    mapping: json,
    fingerprint: { type: 'varchar', length: 16 },
    createdBy: { type: 'varchar', length: 80, name: 'created_by' },
    createdAt: { ...moment, name: 'created_at' },
    fileHash: { type: 'char', length: 64, name: 'file_hash', nullable: true },
    tuneId: { ...uuid, name: 'tune_id', nullable: true },
    topRpm: { type: 'double', name: 'top_rpm', nullable: true },
    topMapKpa: { type: 'double', name: 'top_map_kpa', nullable: true },
  },
})
export const LogChannelEntity = new EntitySchema<LogChannelRow>({
  name: 'log_channel',
  columns: {
    logId: { ...uuid, name: 'log_id', primary: true },
    channel: { type: 'varchar', length: 40, primary: true },
    data: { type: 'longblob' },
  },
})
export const LogbookEntity = new EntitySchema<LogbookRow>({
  name: 'logbook',
  columns: {
    seq: { type: 'bigint', primary: true, generated: 'increment' },
    buildId: { ...uuid, name: 'build_id' },
    at: moment,
    who: { type: 'varchar', length: 80 },
    kind: { type: 'varchar', length: 40 },
    summary: { type: 'varchar', length: 400 },
    detail: json,
  },
})
export const MappingEntity = new EntitySchema<MappingRow>({
  name: 'log_mapping',
  columns: { fingerprint: { type: 'varchar', length: 16, primary: true }, mapping: json, usedAt: { ...moment, name: 'used_at' } },
})

export interface FileRow {
  id: string
  buildId: string
  item: string
  name: string
  type: string
  size: number
  data: Buffer
  thumb: Buffer | null
  who: string
  createdAt: Date
  removedAt: Date | null
}
export const FileEntity = new EntitySchema<FileRow>({
  name: 'attached_file',
  columns: {
    id: { ...uuid, primary: true },
    buildId: { ...uuid, name: 'build_id' },
    item: { type: 'varchar', length: 80 },
    name: { type: 'varchar', length: 200 },
    type: { type: 'varchar', length: 40 },
    size: { type: 'int' },
    data: { type: 'longblob', select: false },
    thumb: { type: 'mediumblob', nullable: true, select: false },
    who: { type: 'varchar', length: 80 },
    createdAt: { ...moment, name: 'created_at' },
    removedAt: { ...moment, name: 'removed_at', nullable: true },
  },
})

export interface MetaRow {
  name: string
  value: string
}
export const MetaEntity = new EntitySchema<MetaRow>({
  name: 'meta',
  columns: { name: { type: 'varchar', length: 40, primary: true }, value: { type: 'varchar', length: 200 } },
})

/** What a shop knows of a kind of unit, under a name of its own. */
export interface UnitProfileRow {
  id: string
  name: string
  document: string
  who: string
  updatedAt: Date
}
export const UnitProfileEntity = new EntitySchema<UnitProfileRow>({
  name: 'unit_profile',
  columns: {
    id: { ...uuid, primary: true },
    name: { type: 'varchar', length: 60 },
    document: json,
    who: { type: 'varchar', length: 80 },
    updatedAt: { ...moment, name: 'updated_at' },
  },
})

/** A write that carried an id of its own, with the answer it got: a repeat gets that answer again. */
export interface EventRow {
  id: string
  /** hash of method, address and body */
  request: string
  status: number
  type: string | null
  answer: Buffer
  at: Date
}
export const EventEntity = new EntitySchema<EventRow>({
  name: 'event',
  columns: {
    id: { type: 'varchar', length: 80, primary: true },
    request: { type: 'char', length: 64 },
    status: { type: 'smallint' },
    type: { type: 'varchar', length: 80, nullable: true },
    answer: { type: 'mediumblob' },
    at: moment,
  },
})

export interface PersonRow {
  id: string
  name: string
  role: string
  /** hash (people/secrets.ts); null until it was set */
  secret: string | null
  createdAt: Date
  leftAt: Date | null
}
export const PersonEntity = new EntitySchema<PersonRow>({
  name: 'person',
  columns: {
    id: { ...uuid, primary: true },
    name: { type: 'varchar', length: 80 },
    role: { type: 'varchar', length: 10 },
    secret: { type: 'varchar', length: 200, nullable: true },
    createdAt: { ...moment, name: 'created_at' },
    leftAt: { ...moment, name: 'left_at', nullable: true },
  },
})

/** Somebody signed in on one device; the token itself only the device has. */
export interface SignInRow {
  id: string
  tokenHash: string
  previousHash: string | null
  personId: string
  device: string
  createdAt: Date
  seenAt: Date
  rotatedAt: Date
  /** by a code that was made to set a secret */
  setsSecret: boolean
}
export const SignInEntity = new EntitySchema<SignInRow>({
  name: 'sign_in',
  columns: {
    id: { ...uuid, primary: true },
    tokenHash: { type: 'char', length: 64, name: 'token_hash' },
    previousHash: { type: 'char', length: 64, name: 'previous_hash', nullable: true },
    personId: { ...uuid, name: 'person_id' },
    device: { type: 'varchar', length: 120 },
    createdAt: { ...moment, name: 'created_at' },
    seenAt: { ...moment, name: 'seen_at' },
    rotatedAt: { ...moment, name: 'rotated_at' },
    setsSecret: { type: 'boolean', name: 'sets_secret' },
  },
})
export interface CodeRow {
  hash: string
  personId: string
  setsSecret: boolean
  expiresAt: Date
}
export const CodeEntity = new EntitySchema<CodeRow>({
  name: 'one_time_code',
  columns: {
    hash: { type: 'char', length: 64, primary: true },
    personId: { ...uuid, name: 'person_id' },
    setsSecret: { type: 'boolean', name: 'sets_secret' },
    expiresAt: { ...moment, name: 'expires_at' },
  },
})

export const entities = [
  BuildEntity,
  ReadingEntity,
  TuneEntity,
  LogEntity,
  LogChannelEntity,
  LogbookEntity,
  MappingEntity,
  FileEntity,
  MetaEntity,
  EventEntity,
  PersonEntity,
  SignInEntity,
  CodeEntity,
  UnitProfileEntity,
]
