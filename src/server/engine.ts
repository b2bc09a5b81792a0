import { Worker } from 'node:worker_threads';
import { jobsOf } from '@/engine/jobs';
import { EnginePool, type WorkerLike } from '@/engine/pool';
import type { FromWorker } from '@/engine/protocol';

const KEY = Symbol.for('upper-room.engine');
const holder = globalThis as unknown as Record<symbol, unknown>;

/** A thread in the pool's terms. */
function threadOf(file: string): WorkerLike {
  const thread = new Worker(/* turbopackIgnore: true */ file);
  // An idle engine does not keep the process.
  thread.unref();
  const worker: WorkerLike = {
    postMessage: (message) => thread.postMessage(message),
    onmessage: null,
    onerror: null,
    terminate: () => void thread.terminate(),
  };
  thread.on('message', (data: FromWorker) => worker.onmessage?.({ data }));
  thread.on('error', (error: Error) => worker.onerror?.({ message: error.message }));
  return worker;
}

/** The same jobs without a thread: where no worker file was bundled, as in tests of the services. */
function inProcess(): WorkerLike {
  const worker: WorkerLike = { postMessage: (message) => receive(message), onmessage: null, onerror: null, terminate: () => undefined };
  const receive = jobsOf((data) => worker.onmessage?.({ data }));
  return worker;
}

/** An engine whose jobs run in the bundled worker file, or here where there is none. @param size how many workers it has */
export const engineOf = (file: string | undefined, size = 1): EnginePool =>
  new EnginePool(size, () => (file === undefined ? inProcess() : threadOf(file)));

/** The server's engine: the page's jobs in a thread of their own, so that no computation keeps another's request waiting. */
export const engine = (): EnginePool => (holder[KEY] ??= engineOf(process.env.UPPER_ROOM_ENGINE)) as EnginePool;
