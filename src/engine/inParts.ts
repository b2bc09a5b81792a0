import type { EnginePool } from './pool';
import type { Result, SurveyQuestion, SurveyedMap } from './protocol';

/** The measured map of every radio that was heard, made by all workers at once: each takes every so manieth radio. In the order of the radios. */
export async function mapsInParts(
  pool: Pick<EnginePool, 'call' | 'size'>,
  { scene: { grid, planeZM }, radios }: SurveyQuestion,
  { basis, heard }: Result<'learned'>,
  reachM: number,
): Promise<readonly SurveyedMap[]> {
  const apIds = radios.map(({ apId }) => apId);
  const count = Math.min(pool.size, heard.length);
  const parts = Array.from({ length: count }, (_, part) => heard.filter((_radio, i) => i % count === part));
  const made = await Promise.all(
    parts.map((which) => pool.call('measuredMaps', { grid, planeZM, basis, apIds, which, reachM }, { priority: 'soon' })),
  );
  return heard.map((_, i) => made[i % count]![Math.floor(i / count)]!);
}
