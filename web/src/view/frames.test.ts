import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Mesh, MeshBasicMaterial, PerspectiveCamera, Scene } from 'three';
import type { WebGLRenderer } from 'three';
import { fakeFrames } from '../testing/frames.ts';
import { Frames } from './frames.ts';

/** What the graphics card has done: its fences are passed. */
let isDone = true;
const { frame, waiting } = fakeFrames();
beforeEach(() => {
  isDone = true;
});

function made() {
  const gl = {
    fenceSync: () => ({}),
    deleteSync: () => {},
    flush: () => {},
    isContextLost: () => false,
    getSyncParameter: () => (isDone ? 1 : 0),
    ...{ SYNC_GPU_COMMANDS_COMPLETE: 0, SYNC_STATUS: 0, SIGNALED: 1 },
  };
  const compiled = vi.fn(() => Promise.resolve());
  const canvas = { dataset: {} as Record<string, string> };
  const renderer = { getContext: () => gl, domElement: canvas, compileAsync: compiled } as unknown as WebGLRenderer;
  const work = { busy: false, isBusy: () => work.busy, draw: vi.fn(() => false), changed: vi.fn(() => frames.ask()) };
  const frames = new Frames(renderer, work);
  return { frames, work, canvas, compiled };
}

describe('frames', () => {
  it('are drawn once for all who asked, and counted where tests can see them', () => {
    const { frames, work, canvas } = made();
    for (let i = 0; i < 5; i++) frames.ask();
    frame();
    expect(work.draw).toHaveBeenCalledTimes(1);
    expect(canvas.dataset.frames).toBe('1');
    frame();
    expect(work.draw).toHaveBeenCalledTimes(1);
  });

  it('begin when the last one is done', () => {
    const { frames, work } = made();
    isDone = false;
    frames.ask();
    frame();
    frames.ask();
    frame();
    expect(work.draw).toHaveBeenCalledTimes(1);
    isDone = true;
    vi.advanceTimersByTime(100);
    frame();
    expect(work.draw).toHaveBeenCalledTimes(2);
  });

  it('wait while what is drawn is being made', () => {
    const { frames, work } = made();
    work.busy = true;
    frames.ask();
    for (let i = 0; i < 3; i++) frame();
    expect(work.draw).not.toHaveBeenCalled();
    work.busy = false;
    frame();
    expect(work.draw).toHaveBeenCalledTimes(1);
  });

  it('have what comes before them in them: what that asks for is no second one, and only the latest is done', () => {
    const { frames, work } = made();
    const first = vi.fn();
    const second = vi.fn(() => frames.ask());
    frames.ask(first);
    frames.ask(second);
    frame();
    expect(first).not.toHaveBeenCalled();
    expect(second).toHaveBeenCalledTimes(1);
    expect(work.draw).toHaveBeenCalledTimes(1);
    expect(waiting()).toBe(0);
  });

  it('go on while there is more, and end with the view', () => {
    const { frames, work } = made();
    work.draw.mockReturnValueOnce(true);
    frames.ask();
    frame();
    expect(work.changed).toHaveBeenCalledTimes(1);
    expect(waiting()).toBe(1);
    frames.stop();
    expect(waiting()).toBe(0);
  });

  it('wait for the shaders of new materials, which are made once', async () => {
    const { frames, work, compiled } = made();
    const [one, two] = [new MeshBasicMaterial(), new MeshBasicMaterial()];
    const things = [new Mesh(undefined, one), new Mesh(undefined, [one, two])];
    const compile = () => frames.compile(things, new Scene(), new PerspectiveCamera());
    compile();
    frames.ask();
    frame();
    expect(work.draw).not.toHaveBeenCalled();
    await vi.waitFor(() => expect(work.changed).toHaveBeenCalled());
    frame();
    expect(work.draw).toHaveBeenCalledTimes(1);
    compile();
    expect(compiled).toHaveBeenCalledTimes(1);
  });
});
