import { defaultRig, type Rig } from '../core/rig';
import { commandFolder } from '../tests/lib/commandFolder';
import { quadLevel, type Quad } from '../tests/lib/level';

const { basil, put, remove } = commandFolder();
afterAll(remove);

describe('rigs, cues and calls at the command line', () => {
  it('writes a rig that it takes itself', () => {
    const { status, stdout } = basil('rig', 'new');
    expect(status).toBe(0);
    expect(JSON.parse(stdout)).toEqual(defaultRig());
  });

  it('lists cues, tells them apart, what blends at an hour, and adds typical ones', () => {
    put('day.json', JSON.stringify(defaultRig()));
    const json = (...args: string[]) => JSON.parse(basil('cue', ...args, '--rig', 'day.json', '--json').stdout) as Record<string, unknown>;
    expect(json('list')).toMatchObject([{ name: 'Noon', kind: 'timed', hour: 12.5, holds: [{ part: 'exposure' }] }, { name: 'Late sun' }]);
    expect(json('diff', 'noon', 'Late sun')).toMatchObject({
      a: 'Noon',
      b: 'Late sun',
      differences: [{ part: 'exposure', a: { lowEv: 14 }, b: { lowEv: 12.5 } }],
    });
    expect(json('at', '15.125')).toMatchObject({ from: { name: 'Noon', share: 0.5 }, to: { name: 'Late sun', share: 0.5 } });
    const added = basil('cue', 'add', 'dusk', '--rig', 'day.json', '--name', 'Noon');
    expect(added.status).toBe(0);
    put('more.json', added.stdout);
    const more = basil('cue', 'list', '--rig', 'more.json').stdout.trim().split('\n');
    expect(more.map((line) => line.replace(/ \(.*/, ''))).toEqual(['Noon', 'Late sun', 'Noon 2']);
  });

  it('runs the calls of a rig through a script, and says what stands from each change on', () => {
    const rig = defaultRig();
    rig.circuits = [{ id: 'posts', name: 'Posts', rule: { by: 'off' }, bounce: 1, flicker: null }];
    rig.calls = [
      {
        id: 'breach',
        name: 'Breach',
        when: { by: 'event', event: 'gate breached', until: { is: 'after', seconds: 4 } },
        priority: 10,
        cueId: 'late',
        circuits: { posts: { on: true, level: 0.5, tint: '#ffffff' } },
        fadeS: 1,
        clock: null,
        mayBegin: true,
      },
    ];
    put('called.json', JSON.stringify(rig));
    put('script.json', JSON.stringify({ forS: 10, happenings: [{ atS: 2, event: 'gate breached' }] }));
    const { status, stdout } = basil('calls', 'rehearse', '--rig', 'called.json', '--events', 'script.json', '--json');
    expect(status).toBe(0);
    const steps = JSON.parse(stdout) as { atS: number; cueId: string | null; calls: string[]; before: object | null }[];
    expect(steps.map(({ atS, cueId, calls }) => [atS, cueId, calls])).toEqual([
      [0, null, []],
      [2, 'late', ['breach']],
      [6, null, []],
    ]);
    expect(steps[1]).toMatchObject({ circuits: { posts: { level: 0.5 } }, before: { cueId: null, circuits: {} } });
    expect(basil('calls', 'rehearse', '--rig', 'called.json', '--events', 'script.json').stdout).toContain(
      'Late sun, Posts at 0.5 (Breach)',
    );
    put('script.json', '{"happenings": []}');
    const refused = basil('calls', 'rehearse', '--rig', 'called.json', '--events', 'script.json');
    expect(refused.status).toBe(2);
    expect(refused.stderr).toContain('script.json: The rehearsal is not valid: "forS" is required.');
  });

  it('says where no Basil runs whose history is asked for', () => {
    const { status, stderr } = basil('rig', 'history', '--project', 'Quay', '--address', 'http://127.0.0.1:9');
    expect(status).toBe(2);
    expect(stderr).toContain('No Basil answers at http://127.0.0.1:9.');
  });

  it('compares another finished version of a level, writes it as a variant, and adds its cue', async () => {
    const quads: Quad[] = [
      { name: 'Floor', corner: [0, 0, 0], along: [0, 0, 4], up: [4, 0, 0], color: [0.5, 0.4, 0.3] },
      { name: 'Wall', corner: [0, 0, 0], along: [4, 0, 0], up: [0, 3, 0], color: [0.7, 0.1, 0.1] },
    ];
    put('hall.glb', await quadLevel(quads));
    put('ruin.glb', await quadLevel([quads[0]!, { ...quads[1]!, color: [0.1, 0.4, 0.1] }]));
    put('other.glb', await quadLevel(quads.slice(0, 1)));
    put('day.json', JSON.stringify(defaultRig()));
    const told = basil('level', 'finish', 'hall.glb', 'ruin.glb', '--name', 'Ruin', '--out', 'both.glb', '--json');
    expect(JSON.parse(told.stdout)).toEqual({
      name: 'Ruin',
      materials: [{ object: 'Wall', from: 'Wall', to: 'Wall' }],
      lights: { added: [], removed: [], changed: [] },
    });
    // The variant is there by then.
    const again = basil('level', 'finish', 'both.glb', 'ruin.glb', '--name', 'Ruin');
    expect([again.status, again.stderr]).toEqual([2, expect.stringContaining('has a variant "Ruin" already')]);
    expect(basil('level', 'finish', 'hall.glb', 'hall.glb', '--name', 'Same').stdout.trim()).toBe('Both versions show the same.');
    const rig = JSON.parse(
      basil('cue', 'finish', 'hall.glb', 'ruin.glb', '--name', 'Ruin', '--rig', 'day.json', '--cue', 'Late sun').stdout,
    ) as Rig;
    expect(rig.cues[2]).toMatchObject({ name: 'Ruin', hour: 17.75, holds: { variant: 'Ruin' } });
    const wrong = basil('level', 'finish', 'hall.glb', 'other.glb', '--name', 'Ruin', '--out', 'none.glb');
    expect([wrong.status, wrong.stderr]).toEqual([2, expect.stringMatching(/^other.glb: .*"Wall" in the level alone/)]);
  });
});
