import { planWith } from '../../tests/lib/bake';
import { quadSurfaces } from '../../tests/lib/level';
import { bakeLevel, createScene, memoryExecutor, planJobs, runJob, type JobInputs } from '.';

const plan = planWith({ paths: 64, sunRays: 1, bounces: 3 });

describe('a bake in memory', () => {
  it('hands all tiles the one light of the level, however many ask for it at once', async () => {
    const surfaces = await quadSurfaces(
      [
        { name: 'Ground', corner: [0, 0, 0], along: [0, 0, 20], up: [20, 0, 0] },
        { name: 'Wall', corner: [0, 0, 0], along: [20, 0, 0], up: [0, 6, 0] },
      ],
      { texelsPerM: 6, maxMapSize: 256 },
    );
    expect(planJobs(surfaces, plan).gather.length).toBeGreaterThan(2);
    const scene = createScene(surfaces);
    const memories = new Set<ArrayBufferLike>();
    const executor = memoryExecutor(surfaces, plan, (step, job, inputs) => {
      if (step === 'gather') memories.add((inputs as JobInputs['gather']).light.room.memory.buffer);
      return Promise.resolve(runJob(scene, plan, step, job, inputs));
    });
    await bakeLevel(executor);
    // A memory that grows has another buffer.
    expect(memories.size).toBe(1);
    expect(executor.stems()).toHaveLength(surfaces.maps.length);
  });
});
