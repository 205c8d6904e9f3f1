import { checkRehearsal, rehearse, type RehearsedStep, type Rig } from '../../core/rig';
import { clockText } from '../lib/clockText';
import { inFile, need, print, readInput, type Command } from '../lib/input';
import { rigFrom } from '../lib/rigFile';

const nameIn = (list: readonly { id: string; name: string }[], id: string) => list.find((one) => one.id === id)?.name ?? id;

/** Runs the calls of a rig through a script of happenings: what stands from each moment on at which it changes. */
export const rehearseCalls: Command = async (_, options) => {
  const rig = await rigFrom(options.rig);
  const file = need(options.events, 'The file of happenings (--events)');
  const bytes = await readInput(file);
  const script = await inFile(file, () => checkRehearsal(parsed(bytes)));
  const steps = rehearse(rig, script);
  if (options.json) return print(steps.map((step, i) => ({ ...step, before: before(steps[i - 1]) })));
  for (const step of steps) console.log(told(step, rig));
};

/** What stood before a step: a game that is joined midway knows what it goes back to. */
const before = (step: RehearsedStep | undefined) => (step ? { cueId: step.cueId, circuits: step.circuits } : null);

function parsed(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    return null;
  }
}

function told({ atS, day, hour, moonPhase, cueId, circuits, calls, pace }: RehearsedStep, rig: Rig): string {
  const cue = cueId === null ? 'the day' : nameIn(rig.cues, cueId);
  const switched = Object.entries(circuits).map(([id, { on, level }]) => `${nameIn(rig.circuits, id)} ${on ? `at ${level}` : 'off'}`);
  const parts = [cue, ...switched, ...(pace === 1 ? [] : [`day x ${pace}`])];
  const holding = calls.length > 0 ? ` (${calls.map((id) => nameIn(rig.calls, id)).join(', ')})` : '';
  return `${atS.toFixed(1)} s, day ${day + 1} ${clockText(hour)}, moon ${moonPhase.toFixed(2)}: ${parts.join(', ')}${holding}`;
}
