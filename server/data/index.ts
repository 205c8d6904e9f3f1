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
export { diskRoom, needRoom, type DiskRoom } from './diskRoom';
export { troubleFailure, troubleOf, type Trouble } from './troubles';
export { listen, migrate, openDatabase, type Db, type Tx } from './database';
export type { BakeTable, Database, IntakeTable, SkyImageTable } from './schema';
