import { defaultRig } from '../../core/rig';
import { readKept } from './keptLights';

it('reads back what was kept, upgrades its rig, and leaves out what is no rig or lacks its cue', () => {
  const rig = defaultRig();
  const light = { id: 'a', name: 'Noon, kept', rig, cueId: 'noon', hour: null, days: 0 };
  const stored = [light, { ...light, id: 'b', rig: { version: 1 } }, { ...light, id: 'c', cueId: 'gone' }, null];
  expect(readKept(JSON.parse(JSON.stringify(stored)))).toEqual([light]);
  expect(readKept(undefined)).toEqual([]);
  expect(readKept({})).toEqual([]);
});
