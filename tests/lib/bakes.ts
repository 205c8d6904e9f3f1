import type { BakeNow, BakeParts, BakesNow, BakesView, BakeView } from '../../core/api';

const read = async <T>(url: string): Promise<T> => (await (await fetch(url)).json()) as T;

/** The bakes of a project with what they hold, as its page puts them together. */
export async function bakesAt(address: string, projectId: string): Promise<BakesView> {
  const now = await read<BakesNow>(`${address}/api/projects/${projectId}/bakes`);
  const whole = async (bake: BakeNow): Promise<BakeView> => ({ ...bake, ...(await read<BakeParts>(`${address}/api/bakes/${bake.id}`)) });
  const maybe = async (bake: BakeNow | null) => bake && whole(bake);
  const [atWork, done, failed] = [await maybe(now.atWork), await maybe(now.done), await maybe(now.failed)];
  return { ...now, atWork, done, failed, opened: await Promise.all(now.opened.map(whole)) };
}
