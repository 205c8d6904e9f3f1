import { sql } from 'kysely';
import type { BakeState } from '../../core/api';

/** States of a bake that is asked for and not over. */
export const AT_WORK: BakeState[] = ['planning', 'running', 'paused', 'finishing'];

/** Seconds that a bake was worked on until now. */
export const WORKED_S = sql<number>`worked_s + coalesce(extract(epoch from now() - started_at), 0)`;
