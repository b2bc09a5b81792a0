import { UpperRoomError } from '@/core/errors';
import type { CallName, FromWorker, Params, Progress, Result, ToWorker } from './protocol';

/** What the pool needs of a worker: the browser's Worker has it, and a test's stand-in too. */
export interface WorkerLike {
  postMessage(message: ToWorker): void;
  onmessage: ((event: { data: FromWorker }) => void) | null;
  onerror: ((event: { message?: string }) => void) | null;
  terminate(): void;
}

type Job = {
  jobId: number;
  call: CallName;
  params: unknown;
  resolve: (result: never) => void;
  reject: (error: Error) => void;
  onProgress: ((progress: never) => void) | undefined;
  signal: AbortSignal | undefined;
  priority: Priority;
  /** Workers that broke while they had it. */
  broke: number;
};
/** `loaded`: its worker has answered something; `gone`: it could not be loaded, again and again. */
type Seat = { worker: WorkerLike; job: Job | null; loaded: boolean; failures: number; gone: boolean };

/** What somebody looks at while it comes; what is needed for that; what takes its time. */
export type Priority = 'now' | 'soon' | 'long';
const ORDER: readonly Priority[] = ['now', 'soon', 'long'];

/** A job on which this many workers broke is given up: it breaks them. */
const MAX_BROKE = 2;

/** A worker that fails this often without ever having answered will not be made again. */
const MAX_FAILURES = 3;

/** How many workers a page has on a machine of so many cores: one per core but one, two at least, four at most. */
export const workersFor = (cores: number): number => Math.min(4, Math.max(2, cores - 1));

/**
 * Workers and a queue. Each worker has one job at a time; a cancelled job that still waits never runs, a running one is told.
 * A call always ends: with its result, its error, or CANCELLED.
 */
export class EnginePool {
  private readonly seats: Seat[];
  private readonly queue: Job[] = [];
  private nextId = 1;

  /** @param size how many workers there are */
  constructor(
    readonly size: number,
    private readonly make: () => WorkerLike,
  ) {
    this.seats = Array.from({ length: size }, () => this.seat());
  }

  private seat(): Seat {
    const seat: Seat = { worker: this.make(), job: null, loaded: false, failures: 0, gone: false };
    this.listen(seat);
    return seat;
  }

  private listen(seat: Seat): void {
    seat.worker.onmessage = ({ data }) => this.receive(seat, data);
    seat.worker.onerror = (event) => {
      // A worker that broke is replaced; the others go on.
      const { job, loaded } = seat;
      seat.worker.terminate();
      seat.job = null;
      seat.loaded = false;
      // A worker may break for reasons of its own: another tries the job once more. One that never answered has not broken on it at all,
      // unless the job has broken one already.
      const byJob = job !== null && (loaded || job.broke > 0);
      if (byJob) job.broke++;
      seat.failures = loaded || byJob ? 0 : seat.failures + 1;
      if (seat.failures >= MAX_FAILURES) seat.gone = true;
      else {
        seat.worker = this.make();
        this.listen(seat);
      }
      const problem = { message: event.message ?? 'worker stopped' };
      if (job !== null && job.broke >= MAX_BROKE) job.reject(new UpperRoomError('WORKER_FAILED', problem));
      else if (job !== null && !job.signal?.aborted) this.queue.unshift(job);
      if (this.seats.every((one) => one.gone))
        for (const waiting of this.queue.splice(0)) waiting.reject(new UpperRoomError('WORKER_UNLOADABLE', problem));
      this.pump();
    };
  }

  /**
   * Runs a call on the next free worker. `signal` ends it with CANCELLED, `stop` with the best it has so far.
   * @throws UpperRoomError as the handler does, CANCELLED, WORKER_FAILED, WORKER_UNLOADABLE
   */
  call<K extends CallName>(
    call: K,
    params: Params<K>,
    options: { signal?: AbortSignal; onProgress?: (progress: Progress<K>) => void; priority?: Priority; stop?: AbortSignal } = {},
  ): Promise<Result<K>> {
    return new Promise<Result<K>>((resolve, reject) => {
      if (options.signal?.aborted) return reject(new UpperRoomError('CANCELLED'));
      if (this.seats.every((seat) => seat.gone)) return reject(new UpperRoomError('WORKER_UNLOADABLE'));
      const job: Job = {
        jobId: this.nextId++,
        call,
        params,
        resolve,
        reject,
        onProgress: options.onProgress as Job['onProgress'],
        signal: options.signal,
        priority: options.priority ?? 'soon',
        broke: 0,
      };
      options.stop?.addEventListener('abort', () => this.stop(job), { once: true });
      options.signal?.addEventListener('abort', () => this.cancel(job), { once: true });
      this.queue.push(job);
      this.pump();
    });
  }

  /** Asks a running job to end with the best it has; one that has not begun has nothing. */
  private stop(job: Job): void {
    const seat = this.seats.find((one) => one.job === job);
    if (seat === undefined) this.cancel(job);
    else seat.worker.postMessage({ type: 'stop', jobId: job.jobId });
  }

  private cancel(job: Job): void {
    const waiting = this.queue.indexOf(job);
    if (waiting >= 0) this.queue.splice(waiting, 1);
    else this.seats.find((seat) => seat.job === job)?.worker.postMessage({ type: 'cancel', jobId: job.jobId });
    job.reject(new UpperRoomError('CANCELLED'));
  }

  private pump(): void {
    for (const seat of this.seats) {
      if (seat.job !== null || seat.gone) continue;
      const job = this.next();
      if (job === undefined) return;
      seat.job = job;
      seat.worker.postMessage({ type: 'start', jobId: job.jobId, call: job.call, params: job.params });
    }
  }

  /** The first that waits of the most urgent. What takes its time leaves one worker to what somebody looks at. */
  private next(): Job | undefined {
    const here = this.seats.filter(({ gone }) => !gone);
    const long = here.filter(({ job }) => job?.priority === 'long').length;
    for (const priority of ORDER) {
      if (priority === 'long' && here.length > 1 && long >= here.length - 1) continue;
      const at = this.queue.findIndex((job) => job.priority === priority);
      if (at >= 0) return this.queue.splice(at, 1)[0];
    }
    return undefined;
  }

  private receive(seat: Seat, message: FromWorker): void {
    seat.loaded = true;
    seat.failures = 0;
    const { job } = seat;
    if (job === null || job.jobId !== message.jobId) return;
    if (message.type === 'progress') return void job.onProgress?.(message.progress as never);
    seat.job = null;
    if (message.type === 'done') job.resolve(message.result as never);
    else job.reject(new UpperRoomError(message.code, message.details));
    this.pump();
  }

  dispose(): void {
    for (const seat of this.seats) seat.worker.terminate();
  }
}
