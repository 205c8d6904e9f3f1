export { freeBlobs, freeBrokenUploads, lockBlobs, openBlob, readBlob, storeBlob, streamOf } from './blobs';
export { migrate, openDatabase, type Db, type Tx } from './database';
export type { Database, IntakeTable, SkyImageTable } from './schema';
