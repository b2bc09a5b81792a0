import { describe, expect, test } from '@jest/globals';
import { UpperRoomError } from '@/core/errors';
import { EnginePool, workersFor, type WorkerLike } from './pool';
import type { FromWorker, ToWorker } from './protocol';

/** A worker that does nothing by itself: the test answers for it. */
class Puppet implements WorkerLike {
  onmessage: WorkerLike['onmessage'] = null;
  onerror: WorkerLike['onerror'] = null;
  readonly received: ToWorker[] = [];
  terminated = false;
  postMessage(message: ToWorker): void {
    this.received.push(message);
  }
  answer(message: FromWorker): void {
    this.onmessage?.({ data: message });
  }
  terminate(): void {
    this.terminated = true;
  }
}

const params = { grid: { originXM: 0, originYM: 0, cellM: 1, cols: 1, rows: 1 }, values: new Float32Array(1), levels: [] };
const settle = () => new Promise((resolve) => setTimeout(resolve, 0));

test('a page has one worker per core but one, two at least, four at most', () => {
  expect([1, 2, 3, 4, 5, 64].map(workersFor)).toEqual([2, 2, 2, 3, 4, 4]);
});

describe('the pool', () => {
  const withPuppets = (size: number) => {
    const puppets: Puppet[] = [];
    const pool = new EnginePool(size, () => {
      const puppet = new Puppet();
      puppets.push(puppet);
      return puppet;
    });
    return { pool, puppets };
  };
  const code = (promise: Promise<unknown>) =>
    promise.then(
      () => 'done',
      (error: unknown) => (error instanceof UpperRoomError ? error.code : error),
    );

  test('gives each worker one job and the next when it is done', async () => {
    const { pool, puppets } = withPuppets(2);
    const calls = [1, 2, 3].map(() => pool.call('contours', params));
    expect(puppets.map((p) => p.received.length)).toEqual([1, 1]);
    puppets[1]!.answer({ type: 'done', jobId: 2, result: ['second'] });
    expect(await calls[1]).toEqual(['second']);
    expect(puppets[1]!.received.at(-1)).toMatchObject({ type: 'start', jobId: 3 });
  });
  test('what takes its time leaves one worker to what somebody looks at', async () => {
    const { pool, puppets } = withPuppets(3);
    const long = [1, 2, 3].map(() => pool.call('contours', params, { priority: 'long' }));
    expect(puppets.map((p) => p.received.length)).toEqual([1, 1, 0]);
    void pool.call('contours', params, { priority: 'now' });
    expect(puppets[2]!.received).toMatchObject([{ type: 'start', jobId: 4 }]);
    puppets[2]!.answer({ type: 'done', jobId: 4, result: [] });
    expect(puppets[2]!.received).toHaveLength(1);
    puppets[0]!.answer({ type: 'done', jobId: 1, result: ['first'] });
    expect(await long[0]).toEqual(['first']);
    expect(puppets[0]!.received.at(-1)).toMatchObject({ type: 'start', jobId: 3 });
    // One alone does all.
    const alone = withPuppets(1);
    void alone.pool.call('contours', params, { priority: 'long' });
    expect(alone.puppets[0]!.received).toHaveLength(1);
  });
  test('a cancelled job that waits never runs; one that runs is told; both reject at once', async () => {
    const { pool, puppets } = withPuppets(1);
    const [first, second] = [new AbortController(), new AbortController()];
    const running = code(pool.call('contours', params, { signal: first.signal }));
    const waiting = code(pool.call('contours', params, { signal: second.signal }));
    second.abort();
    first.abort();
    expect([await running, await waiting]).toEqual(['CANCELLED', 'CANCELLED']);
    expect(puppets[0]!.received).toEqual([expect.objectContaining({ type: 'start' }), { type: 'cancel', jobId: 1 }]);
    // The seat is free only when the worker says so: it has one job at a time.
    const third = pool.call('contours', params);
    expect(puppets[0]!.received).toHaveLength(2);
    puppets[0]!.answer({ type: 'failed', jobId: 1, code: 'CANCELLED', details: {} });
    puppets[0]!.answer({ type: 'done', jobId: 3, result: [] });
    expect(await third).toEqual([]);
    const aborted = new AbortController();
    aborted.abort();
    expect(await code(pool.call('contours', params, { signal: aborted.signal }))).toBe('CANCELLED');
  });
  test('errors cross with code and details; a broken worker is replaced and its job done by another', async () => {
    const { pool, puppets } = withPuppets(1);
    const failing = pool.call('contours', params);
    puppets[0]!.answer({ type: 'failed', jobId: 1, code: 'GRID_TOO_LARGE', details: { cols: 9 } });
    await expect(failing).rejects.toMatchObject({ code: 'GRID_TOO_LARGE', details: { cols: 9 } });
    const rescued = pool.call('contours', params);
    puppets[0]!.onerror?.({ message: 'out of memory' });
    expect(puppets[0]!.terminated).toBe(true);
    expect(puppets[1]!.received).toMatchObject([{ type: 'start', jobId: 2 }]);
    puppets[1]!.answer({ type: 'done', jobId: 2, result: ['after all'] });
    expect(await rescued).toEqual(['after all']);
  });
  test('a job that breaks one worker after the other is given up by name, and the others go on', async () => {
    const { pool, puppets } = withPuppets(1);
    const first = pool.call('contours', params);
    puppets[0]!.answer({ type: 'done', jobId: 1, result: [] });
    await first;
    for (let round = 0; round < 4; round++) {
      const broken = code(pool.call('contours', params));
      puppets.at(-1)!.onerror?.({ message: 'out of memory' });
      puppets.at(-1)!.onerror?.({ message: 'out of memory' });
      expect(await broken).toBe('WORKER_FAILED');
      const next = pool.call('contours', params);
      puppets.at(-1)!.answer({ type: 'done', jobId: 3 + round * 2, result: [] });
      expect(await next).toEqual([]);
    }
  });
  test('what is wanted at once goes before what may take long', async () => {
    const { pool, puppets } = withPuppets(1);
    void pool.call('contours', params);
    void pool.call('retune', {} as never, { priority: 'long' });
    void pool.call('contours', params);
    void pool.call('lens', {} as never, { priority: 'now' });
    for (let jobId = 1, i = 0; i < 3; i++) {
      const started = puppets[0]!.received.at(-1) as { jobId: number };
      jobId = started.jobId;
      puppets[0]!.answer({ type: 'done', jobId, result: [] });
    }
    expect(puppets[0]!.received.map((message) => (message as { call: string }).call)).toEqual(['contours', 'lens', 'contours', 'retune']);
  });
  test('workers that cannot be loaded are said, and not made for ever', async () => {
    const { pool, puppets } = withPuppets(2);
    const calls = [1, 2, 3].map(() => code(pool.call('contours', params)));
    for (let i = 0; i < puppets.length && i < 50; i++) puppets[i]!.onerror?.({ message: 'the script is gone' });
    expect(await Promise.all(calls)).toEqual(['WORKER_UNLOADABLE', 'WORKER_UNLOADABLE', 'WORKER_UNLOADABLE']);
    expect(puppets.length).toBeLessThan(12);
    expect(await code(pool.call('contours', params))).toBe('WORKER_UNLOADABLE');
  });
  test('a running job is asked to stop and gives what it has; one that waits is cancelled', async () => {
    const { pool, puppets } = withPuppets(1);
    const [first, second] = [new AbortController(), new AbortController()];
    const running = pool.call('contours', params, { stop: first.signal });
    const waiting = code(pool.call('contours', params, { stop: second.signal }));
    second.abort();
    first.abort();
    expect(await waiting).toBe('CANCELLED');
    expect(puppets[0]!.received.at(-1)).toEqual({ type: 'stop', jobId: 1 });
    puppets[0]!.answer({ type: 'done', jobId: 1, result: ['so far'] });
    expect(await running).toEqual(['so far']);
  });
  test('progress reaches the caller', async () => {
    const { pool, puppets } = withPuppets(1);
    const seen: unknown[] = [];
    void pool.call('retune', {} as never, { onProgress: (progress) => seen.push(progress) });
    puppets[0]!.answer({ type: 'progress', jobId: 1, progress: { bestCost: 2 } });
    await settle();
    expect(seen).toEqual([{ bestCost: 2 }]);
  });
});
