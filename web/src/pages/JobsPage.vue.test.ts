// The list of jobs: made, begun with a template, found, duplicated under a name of its own, deleted after a second look.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createPinia, setActivePinia } from 'pinia';
import { all, click, fill, mounted, textOf, the, unmountAll } from '../testing/mountBench.ts';
import JobsPage from './JobsPage.vue';

interface Listed {
  id: string;
  name: string;
  batch: string | null;
}

let jobs: Listed[];
let asked: string[];
let broken = false;
const summary = ({ id, name, batch }: Listed) => ({ id, name, batch, sources: 1, version: 2, updated_at: '2026-01-01T12:00:00Z', picture: null }); // prettier-ignore

/** Stands in for the server. */
async function answer(path: string, { method = 'GET', body }: { method?: string; body?: string } = {}): Promise<Response> {
  const sent = (body ? JSON.parse(body) : {}) as { name?: string; template?: string | null };
  if (method !== 'GET') asked.push(`${method} ${path} ${body ?? ''}`.trim());
  if (broken) return Response.json({ error: { code: 'internal', message: 'The database is away.' } }, { status: 500 });
  if (path.endsWith('/templates')) return Response.json([{ id: 'iron', name: 'All of iron', steps: [{}, {}], sources: [], every: true }]);
  if (path.endsWith('/batches')) return Response.json([{ id: 'b', name: 'Wedges', jobs: 2, sent: 1, failed: 1, incomplete: 0, stopped: 0, open: 0 }]);
  if (path.endsWith('/copy')) jobs.push({ id: `c${jobs.length}`, name: sent.name ?? '', batch: null });
  else if (method === 'DELETE') jobs = jobs.filter(({ id }) => !path.endsWith(id));
  else if (method === 'POST') return Response.json({ id: 'new' });
  if (path.endsWith('/jobs')) return Response.json(jobs.map(summary));
  return Response.json({ used: { files: 0, bytes: 0 }, uploads: { files: 0, bytes: 0 }, database: 0 });
} // prettier-ignore

beforeEach(() => {
  setActivePinia(createPinia());
  broken = false;
  asked = [];
  jobs = ['Lower station', 'Upper station'].map((name, i) => ({ id: `j${i}`, name, batch: null }));
  vi.stubGlobal('fetch', answer);
});
afterEach(unmountAll);

async function page() {
  const { router } = mounted(JobsPage);
  await vi.waitFor(() => expect(textOf(document.body)).not.toContain('Loading …'));
  return router;
}
const names = () => [...document.querySelectorAll('section[aria-label=Jobs] .name')].map((name) => textOf(name));

describe('the list of jobs', () => {
  it('shows each with its figures, and batches by themselves; their jobs are found by name only', async () => {
    jobs = [...jobs, ...['wedge-1', 'wedge-2', 'wedge-3', 'wedge-4'].map((name) => ({ id: name, name, batch: 'b' }))];
    await page();
    expect(names()).toEqual(['Lower station', 'Upper station']);
    expect(textOf(document.body)).toMatch(/1 source, version 2, last changed/);
    expect(textOf(document.querySelector('section[aria-label=Batches]') as Element)).toContain('1 sent, 1 failed');
    await fill(the('textbox', 'Find a job'), 'WEDGE-3');
    expect(names()).toEqual(['wedge-3']);
    await fill(the('textbox', 'Find a job'), 'winch');
    expect(textOf(document.body)).toContain('No job is called “winch”.');
  });

  it('makes a job with the template that every job begins with, and opens it', async () => {
    const router = await page();
    const make = the('button', 'Make job') as HTMLButtonElement;
    expect(make.disabled).toBe(true);
    await fill(the('textbox', 'New job'), '  Cabin ');
    expect(make.disabled).toBe(false);
    make.closest('form')?.dispatchEvent(new Event('submit', { cancelable: true }));
    await vi.waitFor(() => expect(router.currentRoute.value.params.job).toBe('new'));
    expect(asked).toEqual(['POST /api/jobs {"name":"Cabin","template":"iron"}']);
  });

  it('duplicates under a name that no other has', async () => {
    await page();
    await click(the('button', 'Duplicate Lower station'));
    await vi.waitFor(() => expect(names()).toContain('Lower station, copy'));
    await click(the('button', 'Duplicate Lower station'));
    await vi.waitFor(() => expect(names()).toContain('Lower station, copy 2'));
  });

  it('deletes after a second look, and keeps where that is wanted', async () => {
    await page();
    await click(the('button', 'Delete Upper station'));
    expect(textOf(the('alert'))).toContain('Sources, preparation and what was sent go for good.');
    await click(the('button', 'Keep'));
    expect([all('alert'), asked]).toEqual([[], []]);
    await click(the('button', 'Delete Upper station'));
    await click(document.querySelector('.danger') as HTMLElement);
    await vi.waitFor(() => expect(names()).toEqual(['Lower station']));
    expect(asked).toEqual(['DELETE /api/jobs/j1']);
  });

  it('says what to do where there is none, and what went wrong', async () => {
    jobs = [];
    await page();
    expect(textOf(document.body)).toContain('No job yet. Give the first one a name below');
    unmountAll();
    vi.stubGlobal('fetch', answer);
    broken = true;
    mounted(JobsPage);
    await vi.waitFor(() => expect(textOf(all('alert')[0])).toBe('The database is away.'));
  });
});
