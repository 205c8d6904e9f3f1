import { Failure } from '../../core/units';
import { api } from '../api/client';

/** Waits until an intake has ended; answers its project, or null where it was cancelled. Throws its error. */
export async function followIntake(
  id: string,
  signal: AbortSignal,
  progress: (share: number, workers: number) => void,
): Promise<string | null> {
  while (!signal.aborted) {
    const intake = await api.intake(id);
    if (intake.state === 'done' || intake.state === 'compared') return intake.projectId ?? intake.into;
    if (intake.state === 'failed') {
      await api.dropIntake(id);
      throw new Failure('bad-input', intake.error ?? 'The file could not be read.', '');
    }
    progress(intake.share, intake.workers);
    await new Promise((pause) => setTimeout(pause, 400));
  }
  return null;
}
