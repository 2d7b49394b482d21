// Sending a file: resumed where it stopped, cancelled for good, and what went wrong in words.
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { FakeUpload } from '../testing/fakeUpload.ts';
import { upload } from './upload.ts';

vi.mock('tus-js-client', async () => ({ Upload: (await import('../testing/fakeUpload.ts')).FakeUpload }));

const file = new File(['solid'], 'bolt.stl', { lastModified: 7 });
const send = () => {
  const running = upload('job', file, () => {});
  running.done.catch(() => {});
  return { running, fake: FakeUpload.latest };
};
const answer = (status: number, body: string) => ({
  originalResponse: { getStatus: () => status, getBody: () => body },
});

beforeEach(() => (FakeUpload.previous = []));

describe('an upload', () => {
  it('says which file it is and for which job, and is known again by both', async () => {
    const { fake } = send();
    expect(fake.options.metadata).toEqual({ filename: 'bolt.stl', job: 'job' });
    await vi.waitFor(() => expect(fake.started).toBe(true));
    expect(await fake.options.fingerprint?.(file, fake.options)).toBe('noble-prism job bolt.stl 5 7');
    expect(fake.resumed).toBeUndefined();
  });

  it('goes on where an earlier one stopped', async () => {
    FakeUpload.previous = [{ urlStorageKey: 'before' }];
    const { fake } = send();
    await vi.waitFor(() => expect(fake.started).toBe(true));
    expect(fake.resumed).toEqual({ urlStorageKey: 'before' });
  });

  it('is done when the server has it', async () => {
    const { running, fake } = send();
    fake.options.onSuccess?.({} as never);
    await expect(running.done).resolves.toBeUndefined();
  });

  it('is cancelled for good, and says so', async () => {
    const { running, fake } = send();
    running.cancel();
    expect(fake.aborted).toBe(true);
    await expect(running.done).rejects.toMatchObject({ code: 'cancelled', message: 'bolt.stl: upload cancelled.' });
  });

  it.each([
    ['what the server says', answer(422, '{"error":{"code":"empty-file","message":"bolt.stl is empty."}}'), 'is empty'],
    ['that it is too large', answer(413, 'no'), 'larger than the server takes'],
    ['that nobody answers', {}, 'does not answer'],
    ['that nobody answers sense', answer(502, '<html>'), 'does not answer'],
  ])('that fails says %s', async (_, error, words) => {
    const { running, fake } = send();
    fake.options.onError?.(Object.assign(new Error('tus'), error) as never);
    await expect(running.done).rejects.toMatchObject({
      file: 'bolt.stl',
      message: expect.stringContaining(words) as string,
    });
  });
});
