export { catalogue, findCalculation } from './catalogue.ts'
export { changeSays, pathWords, valueSays } from './change-words.ts'
export { checkFact } from './check-told.ts'
export { comparePlans, effectOf, type PlanEffect } from './compare.ts'
export { cautionsFor, checkReading, Choices, contextOf, entryKinds, entryWords, evaluate, ToldFacts } from './judgement.ts'
export { Reading, type ReadingInput } from './reading.ts'
export { evidenceOfChange, lostByEdit } from './evidence-of-change.ts'
export { helpPacket, type PacketMember } from './packet.ts'
export { handoverReport } from './report.ts'
export { ExportCompared, UnitCard, UnitProfile, UnitProfiles } from './wire/unit.ts'
export { type Evaluation, type StationReport, stopsBefore } from './roof.ts'
export { type VerdictEvidence, type VerdictKind, verdictKinds, verdictOf, verdictWants } from './verdicts.ts'
export { isRehearsed, rehearsalPath, rehearsedChoices, type RehearsedField, rehearsedFields, type View, viewOf, views } from './views.ts'
export { isUnreadable, readChoices, readEntry, readFacts, STORED_VERSION } from './stored.ts'
export {
  Anything,
  BenchDriveAnswer,
  type Build,
  BuildAnswer,
  CatalogueAnswer,
  DynoAnswer,
  EffectAnswer,
  FileAnswer,
  Files,
  FuelAnswer,
  ImportedLog,
  JointsAnswer,
  JudgedReadingAnswer,
  LogAnswer,
  LogbookEntry,
  LogbookPage,
  NetworkAnswer,
  Parts,
  PartsPatched,
  PlanAnswer,
  ReadingAnswer,
  Readings,
  ScheduleAnswer,
  SolutionAnswer,
  SpeedSpikes,
  type Tune,
  TuneAnswer,
  Tunes,
} from './wire/http.ts'
export { Board, BoardEntry, Health } from './wire/board.ts'
export { commandSchema, DeviceKind, type LiveCommand, LiveMessage, Reply, SessionCommand } from './wire/live.ts'
export {
  ChangedPerson,
  Code,
  CODE_LENGTH,
  CODE_LETTERS,
  CodeFor,
  FirstOwner,
  Invited,
  Me,
  NewPerson,
  NewSecret,
  OneTimeCode,
  Members,
  Member,
  RoleName,
  SECRET_LENGTH,
  SignIn,
  SignInByCode,
} from './wire/people.ts'
export { mayAs, type Role, roles, roleWords } from './wire/roles.ts'
