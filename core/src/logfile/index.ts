export { channelDimension, ChannelId, channelIds, channelSpecs, drawnWithin, sourceUnits } from './channels.ts'
export { columnsToLog, shuffleColumn } from './column-bytes.ts'
export { checkMapping, countsFromOutside, LogMapping, Unsure } from './mapping.ts'
export {
  joinParts,
  type LogData,
  type LogPart,
  type LogPreview,
  LogReader,
  LOOKED_INTO,
  PIECE_BYTES,
  previewLog,
  type Rejection,
  rowFate,
  usualStepS,
} from './read.ts'
export { headerFingerprint, type LogDialect } from './sniff.ts'
export { type Blocks, blocksOf, rowFrom, thinned } from './thin.ts'
export { topOf } from './top.ts'
