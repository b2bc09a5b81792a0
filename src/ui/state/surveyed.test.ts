import { beforeEach, expect, test } from '@jest/globals';
import { UpperRoomError } from '@/core/errors';
import { NOTHING_COUNTED } from '@/core/survey/heard';
import type { EnginePool } from '@/engine/pool';
import { forgetLearned, surveyedFor, useLearned, type surveyQuestion } from './surveyed';

type Asked = ReturnType<typeof surveyQuestion>;
const askedOf = (key: string): Asked =>
  ({
    key,
    question: { scene: { grid: {}, planeZM: 1 }, radios: [{ apId: 'a' }, { apId: 'b' }], heard: NOTHING_COUNTED, held: [] },
  }) as unknown as Asked;

/** A pool that answers when it is told to. */
function slowPool() {
  const calls: Array<{
    name: string;
    params: { reachM?: number; which?: number[] };
    resolve: (value: unknown) => void;
    reject: (error: Error) => void;
  }> = [];
  const pool = {
    size: 1,
    call: (name: string, params: never) => new Promise((resolve, reject) => calls.push({ name, params, resolve, reject })),
  } as unknown as EnginePool;
  const settled = () => new Promise((resolve) => setTimeout(resolve, 0));
  /** Answers one of the calls. */
  const answer = async (at: number, value: unknown) => {
    if (value instanceof Error) calls[at]!.reject(value);
    else calls[at]!.resolve(value);
    await settled();
  };
  return { pool, calls, answer, settled };
}
const told = (marks: string) => ({ basis: marks, heard: [0, 1], summary: { marks } });
const mapsOf = (reachM: number) => ['a', 'b'].map((apId) => ({ apId, reachM }));

beforeEach(() => forgetLearned());

test('another reach asks for maps alone; the same question for nothing; another question learns anew', async () => {
  const { pool, calls, answer, settled } = slowPool();
  const first = surveyedFor(askedOf('walk'), 5, 'now', pool);
  expect(surveyedFor(askedOf('walk'), 5, 'now', pool)).toBe(first);
  await answer(0, told('one'));
  expect(useLearned.getState().summary).toBeNull();
  await answer(1, mapsOf(5));
  expect(await first).toEqual(mapsOf(5));
  expect(useLearned.getState()).toEqual({ key: 'walk', summary: { marks: 'one' }, error: null });
  const second = surveyedFor(askedOf('walk'), 3, 'now', pool);
  await settled();
  expect(calls.map(({ name }) => name)).toEqual(['learned', 'measuredMaps', 'measuredMaps']);
  expect([calls[1]!.params.reachM, calls[2]!.params.reachM]).toEqual([5, 3]);
  await answer(2, mapsOf(3));
  expect(await second).toEqual(mapsOf(3));
  void surveyedFor(askedOf('other walk'), 3, 'now', pool);
  expect(calls.map(({ name }) => name)).toEqual(['learned', 'measuredMaps', 'measuredMaps', 'learned']);
});

test('what comes late, or for another project, is not told; of the walk that it is held against nothing is', async () => {
  const { pool, answer } = slowPool();
  void surveyedFor(askedOf('walk'), 5, 'now', pool);
  void surveyedFor(askedOf('newer walk'), 5, 'now', pool);
  await answer(1, told('newer'));
  await answer(2, mapsOf(5));
  await answer(0, told('late'));
  await answer(3, mapsOf(5));
  expect(useLearned.getState()).toEqual({ key: 'newer walk', summary: { marks: 'newer' }, error: null });
  void surveyedFor(askedOf('earlier walk'), 5, 'earlier', pool);
  await answer(4, told('earlier'));
  await answer(5, mapsOf(5));
  expect(useLearned.getState().key).toBe('newer walk');
  void surveyedFor(askedOf('walk'), 5, 'now', pool);
  forgetLearned();
  await answer(6, told('of the last project'));
  await answer(7, mapsOf(5));
  expect(useLearned.getState()).toEqual({ key: null, summary: null, error: null });
});

test('what could not be learned is told, and asked again the next time', async () => {
  const { pool, calls, answer } = slowPool();
  const refused = surveyedFor(askedOf('walk'), 5, 'now', pool);
  refused.catch(() => undefined);
  // Another reach, while that is not known yet: it waits for the same.
  const also = surveyedFor(askedOf('walk'), 4, 'now', pool);
  also.catch(() => undefined);
  expect(calls).toHaveLength(1);
  await answer(0, new UpperRoomError('TOO_FEW_READINGS'));
  await expect(refused).rejects.toMatchObject({ code: 'TOO_FEW_READINGS' });
  await expect(also).rejects.toMatchObject({ code: 'TOO_FEW_READINGS' });
  expect(useLearned.getState()).toMatchObject({ key: 'walk', summary: null });
  expect(useLearned.getState().error).toMatch(/./);
  void surveyedFor(askedOf('walk'), 4, 'now', pool);
  expect(calls.map(({ name }) => name)).toEqual(['learned', 'learned']);
});
