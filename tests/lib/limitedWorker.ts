// A worker whose reading of levels has a limit of its own: that of the environment's INTAKE_LIMIT, as JSON.
import { startWorker } from '../../server/jobs';
import { LIMITS, type JobLimit } from '../../server/queue';

const intake = JSON.parse(process.env.INTAKE_LIMIT!) as JobLimit;
await startWorker(process.env.DATABASE_URL!, { threads: 1, limits: { ...LIMITS, intake } });
