import { EnginePool, type WorkerLike } from './pool';

let pool: EnginePool | null = null;

/** The page's pool: one worker per core but one, two at least, four at most. */
export function browserPool(): EnginePool {
  pool ??= new EnginePool(
    Math.min(4, Math.max(2, (navigator.hardwareConcurrency || 2) - 1)),
    () => new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' }) as unknown as WorkerLike,
  );
  return pool;
}
