export { freeBlobs, lockBlobs, openBlob, readBlob, storeBlob, storeBytes, streamOf, sweepBlobs } from './blobs';
export { migrate, openDatabase, type Db, type Tx } from './database';
export type { Database, IntakeTable, SkyImageTable } from './schema';
