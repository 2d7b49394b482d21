// The stream of events: each is heard, and nothing is taken for granted after the connection was lost.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { FakeEvents } from '../testing/fakeServer.ts';
import { listen } from './events.ts';

const hearing = { hear: vi.fn(), resync: vi.fn(), lost: vi.fn() };
beforeEach(() => {
  vi.stubGlobal('EventSource', FakeEvents);
  for (const heard of Object.values(hearing)) heard.mockReset();
});
afterEach(() => void vi.unstubAllGlobals());

describe('the stream of events', () => {
  it('is that of the job, whatever its id holds', () => {
    listen('a/b c', hearing);
    expect(FakeEvents.latest.url).toBe('/api/jobs/a%2Fb%20c/events');
  });

  it('hands on what it hears', () => {
    listen('j', hearing);
    FakeEvents.latest.says({ type: 'result', job: 'j', key: 'k', value: { mesh: 'm' } });
    expect(hearing.hear).toHaveBeenCalledExactlyOnceWith({ type: 'result', job: 'j', key: 'k', value: { mesh: 'm' } });
  });

  it('asks again after it was lost and when the server says so, not when it first opens', () => {
    listen('j', hearing);
    FakeEvents.latest.happens('open');
    expect(hearing.resync).not.toHaveBeenCalled();
    FakeEvents.latest.onerror?.();
    expect(hearing.lost).toHaveBeenLastCalledWith(true);
    FakeEvents.latest.happens('open');
    expect(hearing.lost).toHaveBeenLastCalledWith(false);
    expect(hearing.resync).toHaveBeenCalledTimes(1);
    FakeEvents.latest.happens('resync');
    expect(hearing.resync).toHaveBeenCalledTimes(2);
  });

  it('ends when it is left', () => {
    listen('j', hearing)();
    expect(FakeEvents.latest.closed).toBe(true);
  });
});
