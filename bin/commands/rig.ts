import type { HistoryEntry, ProjectCard } from '../../core/api';
import { defaultRig, readRig } from '../../core/rig';
import { Failure } from '../../core/units';
import { need, print, type Command } from '../lib/input';
import { numberFrom } from '../lib/numberFrom';

/** Where Basil is where nothing else is said. */
const ADDRESS = 'http://127.0.0.1:4170';

/** A rig to start from. */
export const create: Command = () => print(defaultRig());

/** The revisions of a project's rig as a running Basil has them, or one of them as it was. */
export const history: Command = async (_, options) => {
  const address = (options.address ?? ADDRESS).replace(/\/+$/, '');
  const wanted = need(options.project, 'The project (--project, its name or id)');
  const cards = (await ask(address, '/api/projects')) as ProjectCard[];
  const project = cards.find(({ id, name }) => id === wanted || name.toLowerCase() === wanted.toLowerCase());
  if (!project)
    throw new Failure('bad-input', `There is no project "${wanted}".`, `There are: ${cards.map((c) => c.name).join(', ') || 'none'}.`);
  if (options.revision !== undefined) {
    const revision = numberFrom(options.revision, 'The revision', 1, 2 ** 31 - 1);
    const { rig } = (await ask(address, `/api/projects/${project.id}/rig?revision=${revision}`)) as { rig: unknown };
    return print(readRig(rig));
  }
  const entries = (await ask(address, `/api/projects/${project.id}/history`)) as HistoryEntry[];
  if (options.json) return print(entries);
  for (const { revision, at, name, note } of entries) console.log(`${revision}  ${at}  ${name === null ? note : `${name} (${note})`}`);
};

/** An answer of a running Basil. Throws a `bad-input` {@link Failure} where none is there, or it refuses. */
async function ask(address: string, path: string): Promise<unknown> {
  const answer = await fetch(`${address}${path}`).catch((cause: unknown) => {
    throw new Failure('bad-input', `No Basil answers at ${address}.`, 'Start it with "npm start", or give its address with --address.', {
      cause,
    });
  });
  const body = (await answer.json().catch(() => null)) as { error?: { message: string; remedy: string } } | null;
  if (!answer.ok || body === null)
    throw new Failure(
      'bad-input',
      body?.error?.message ?? `${address} is no Basil.`,
      body?.error?.remedy ?? 'Give its address with --address.',
    );
  return body;
}
