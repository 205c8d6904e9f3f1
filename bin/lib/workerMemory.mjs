/**
 * How the allocator of a worker is to treat large blocks: each is a mapping of its own and goes back to the system when it is let go of, instead of
 * staying in the process as a hole.
 */
export const WORKER_MEMORY = { MALLOC_MMAP_THRESHOLD_: '262144', MALLOC_TRIM_THRESHOLD_: '262144', MALLOC_ARENA_MAX: '2' };
