import { readRig, type Cue, type Rig } from '../../core/rig';
import { Failure } from '../../core/units';
import { inFile, need, readInput, type Options } from './input';
import { numberFrom } from './numberFrom';

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw new Failure('bad-input', `not JSON (${(cause as Error).message}).`, 'Write one with "basil rig new".');
  }
}

/** The rig that --rig names. */
export async function rigFrom(option: string | undefined): Promise<Rig> {
  const file = need(option, '--rig');
  const text = new TextDecoder().decode(await readInput(file));
  return inFile(file, () => readRig(parseJson(text)));
}

/** The cue or the hour that a command is about. */
export function momentFrom(rig: Rig, { at, cue: name }: Options): { cue: Cue } | { hour: number } {
  if ((at === undefined) === (name === undefined))
    throw new Failure('bad-input', 'Which moment is meant is not said.', 'Give either --at HOUR or --cue NAME.');
  if (at !== undefined) return { hour: numberFrom(at, '--at', 0, 23.9999) };
  return { cue: cueNamed(rig, name!) };
}

/** The cue of a name, or of an id. */
export function cueNamed(rig: Rig, name: string): Cue {
  const cue = rig.cues.find((c) => c.name.toLowerCase() === name.toLowerCase() || c.id === name);
  if (!cue) throw new Failure('bad-input', `The rig has no cue "${name}".`, `It has: ${rig.cues.map((c) => c.name).join(', ')}.`);
  return cue;
}
