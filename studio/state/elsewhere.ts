import type { ProjectEvent } from '../../core/api';
import type { Autosave } from './autosave';

/**
 * Follows what other tabs and people store, while the page is looked at: each new revision is taken over at once, or brought together with what is
 * not stored here yet by the next save. Answers how to stop.
 */
export function followElsewhere(projectId: string, autosave: Autosave): () => void {
  let events: EventSource | null = null;
  const look = () => void autosave.refresh().catch(() => undefined);
  const onMessage = ({ data }: MessageEvent<string>) => {
    const { revision } = JSON.parse(data) as ProjectEvent;
    if (revision === null || revision > autosave.revision()) look();
  };
  // A browser opens few connections to one server: tabs that nobody looks at hold none.
  const follow = () => {
    if (document.visibilityState !== 'visible') {
      events?.close();
      events = null;
      return;
    }
    look();
    if (events) return;
    events = new EventSource(`/api/projects/${projectId}/events`);
    events.addEventListener('message', onMessage);
  };
  follow();
  document.addEventListener('visibilitychange', follow);
  window.addEventListener('focus', look);
  return () => {
    document.removeEventListener('visibilitychange', follow);
    window.removeEventListener('focus', look);
    events?.close();
  };
}
