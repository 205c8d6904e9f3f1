import type { Migration } from 'kysely';
import * as first from './001_first';
import * as skyImages from './002_sky_images';
import * as lamps from './003_lamps';
import * as models from './004_models';
import * as stemParts from './005_stem_parts';
import * as workerThreads from './006_worker_threads';
import * as bakeSteps from './007_bake_steps';
import * as skySeen from './008_sky_seen';
import * as bakeNoise from './009_bake_noise';
import * as touchedBlobs from './010_touched_blobs';
import * as growth from './011_growth';
import * as glows from './012_glows';
import * as keptBakes from './013_kept_bakes';
import * as keepBaking from './014_keep_baking';
import * as seenFirst from './015_seen_first';
import * as history from './016_history';
import * as shelf from './017_shelf';
import * as finishes from './018_finishes';
import * as openings from './019_openings';

/** All migrations by name, in order. A landed one is never changed. */
export const migrations: Record<string, Migration> = {
  '001_first': first,
  '002_sky_images': skyImages,
  '003_lamps': lamps,
  '004_models': models,
  '005_stem_parts': stemParts,
  '006_worker_threads': workerThreads,
  '007_bake_steps': bakeSteps,
  '008_sky_seen': skySeen,
  '009_bake_noise': bakeNoise,
  '010_touched_blobs': touchedBlobs,
  '011_growth': growth,
  '012_glows': glows,
  '013_kept_bakes': keptBakes,
  '014_keep_baking': keepBaking,
  '015_seen_first': seenFirst,
  '016_history': history,
  '017_shelf': shelf,
  '018_finishes': finishes,
  '019_openings': openings,
};
