import type { BakeNow, BakeParts, BakesNow, BakesView } from '../../core/api';

const read = async <T>(url: string): Promise<T> => (await (await fetch(url)).json()) as T;

/** The bakes of a project with what they hold, as its page puts them together. */
export async function bakesAt(address: string, projectId: string): Promise<BakesView> {
  const now = await read<BakesNow>(`${address}/api/projects/${projectId}/bakes`);
  const whole = async (bake: BakeNow | null) => bake && { ...bake, ...(await read<BakeParts>(`${address}/api/bakes/${bake.id}`)) };
  return { ...now, atWork: await whole(now.atWork), done: await whole(now.done), failed: await whole(now.failed) };
}
