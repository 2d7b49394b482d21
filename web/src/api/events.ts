/** Server-sent events of a job; the browser connects again by itself. */
import type { JobEvent } from '@noble-prism/wire/task';

export interface Hearing {
  hear(event: JobEvent): void;
  /** Events may have been missed: ask again. */
  resync(): void;
  lost(lost: boolean): void;
}

export function listen(job: string, hearing: Hearing): () => void {
  const stream = new EventSource(`/api/jobs/${encodeURIComponent(job)}/events`);
  let opened = false;
  stream.onmessage = ({ data }) => hearing.hear(JSON.parse(data as string) as JobEvent);
  stream.addEventListener('resync', () => hearing.resync());
  stream.addEventListener('open', () => {
    hearing.lost(false);
    if (opened) hearing.resync();
    opened = true;
  });
  stream.onerror = () => hearing.lost(true);
  return () => stream.close();
}
