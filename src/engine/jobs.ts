import { UpperRoomError } from '@/core/errors';
import { HANDLERS } from './handlers';
import type { CallName, FromWorker, ToWorker } from './protocol';

/** Longest stretch of work before messages are looked at, in ms. */
const SLICE_MS = 30;
const breathe = () => new Promise<void>((resolve) => setTimeout(resolve, 0));

/**
 * The worker's side of the protocol, in a page's worker and in a server's thread alike: what to do with each message that comes. One job
 * at a time; long ones let cancels and stops in between their steps.
 */
export function jobsOf(post: (message: FromWorker) => void): (message: ToWorker) => void {
  /** What was asked of each job that runs: a word that comes too late is for nobody. */
  const asked = new Map<number, 'nothing' | 'cancel' | 'stop'>();

  async function run(jobId: number, call: CallName, params: unknown): Promise<void> {
    asked.set(jobId, 'nothing');
    try {
      const handler = HANDLERS[call] as (params: unknown) => unknown;
      let result = handler(params);
      if (typeof (result as Generator | undefined)?.next === 'function') {
        const steps = result as Generator<unknown, unknown, boolean | undefined>;
        let step = steps.next();
        for (let sliceStart = performance.now(); !step.done; step = steps.next(asked.get(jobId) === 'stop')) {
          if (performance.now() - sliceStart < SLICE_MS) continue;
          if (step.value !== undefined) post({ type: 'progress', jobId, progress: step.value });
          await breathe();
          if (asked.get(jobId) === 'cancel') throw new UpperRoomError('CANCELLED');
          sliceStart = performance.now();
        }
        result = step.value;
      }
      post({ type: 'done', jobId, result });
    } catch (error) {
      const known =
        error instanceof UpperRoomError
          ? error
          : new UpperRoomError('WORKER_FAILED', { message: error instanceof Error ? error.message : String(error) });
      post({ type: 'failed', jobId, code: known.code, details: { ...known.details } });
    } finally {
      asked.delete(jobId);
    }
  }

  return (message) => {
    if (message.type === 'start') void run(message.jobId, message.call, message.params);
    else if (asked.has(message.jobId)) asked.set(message.jobId, message.type);
  };
}
