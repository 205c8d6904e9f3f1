import type { Migration } from 'kysely';
import * as first from './001_first';

/** All migrations by name, in order. A landed one is never changed. */
export const migrations: Record<string, Migration> = { '001_first': first };
