import { EnginePool, workersFor, type WorkerLike } from './pool';

let pool: EnginePool | null = null;

/** The page's pool. */
export function browserPool(): EnginePool {
  pool ??= new EnginePool(
    workersFor(navigator.hardwareConcurrency || 2),
    () => new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' }) as unknown as WorkerLike,
  );
  return pool;
}
