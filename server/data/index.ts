export {
  changeBlobs,
  freeBlobs,
  lockBlobs,
  openBlob,
  readBlob,
  readRanges,
  storeBlob,
  storeBytes,
  storeBytesIn,
  streamOf,
  sweepBlobs,
} from './blobs';
export { migrate, openDatabase, type Db, type Tx } from './database';
export type { Database, IntakeTable, SkyImageTable } from './schema';
