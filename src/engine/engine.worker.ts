import { UpperRoomError } from '@/core/errors';
import { HANDLERS } from './handlers';
import type { CallName, FromWorker, ToWorker } from './protocol';

/** The worker's side of the protocol: one job at a time; long ones let cancels in between their steps. */
const scope = self as unknown as { postMessage(message: FromWorker): void; onmessage: ((event: MessageEvent<ToWorker>) => void) | null };
const cancelled = new Set<number>();
/** Jobs that were told to end with the best they have. */
const stopping = new Set<number>();

/** Longest stretch of work before messages are looked at, in ms. */
const SLICE_MS = 30;
const breathe = () => new Promise<void>((resolve) => setTimeout(resolve, 0));

async function run(jobId: number, call: CallName, params: unknown): Promise<void> {
  try {
    const handler = HANDLERS[call] as (params: unknown) => unknown;
    let result = handler(params);
    if (typeof (result as Generator).next === 'function') {
      const steps = result as Generator<unknown, unknown, boolean | undefined>;
      let step = steps.next();
      for (let sliceStart = performance.now(); !step.done; step = steps.next(stopping.has(jobId))) {
        if (performance.now() - sliceStart < SLICE_MS) continue;
        scope.postMessage({ type: 'progress', jobId, progress: step.value });
        await breathe();
        if (cancelled.delete(jobId)) throw new UpperRoomError('CANCELLED');
        sliceStart = performance.now();
      }
      stopping.delete(jobId);
      result = step.value;
    }
    scope.postMessage({ type: 'done', jobId, result });
  } catch (error) {
    const known =
      error instanceof UpperRoomError
        ? error
        : new UpperRoomError('WORKER_FAILED', { message: error instanceof Error ? error.message : String(error) });
    scope.postMessage({ type: 'failed', jobId, code: known.code, details: { ...known.details } });
  }
}

scope.onmessage = ({ data }) => {
  if (data.type === 'cancel') cancelled.add(data.jobId);
  else if (data.type === 'stop') stopping.add(data.jobId);
  else void run(data.jobId, data.call, data.params);
};
