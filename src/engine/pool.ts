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
};
type Seat = { worker: WorkerLike; job: Job | null };

/**
 * Workers and a queue. Each worker has one job at a time; a cancelled job that still waits never runs, a running one is told.
 * A call always ends: with its result, its error, or CANCELLED.
 */
export class EnginePool {
  private readonly seats: Seat[];
  private readonly queue: Job[] = [];
  private nextId = 1;

  constructor(
    size: number,
    private readonly make: () => WorkerLike,
  ) {
    this.seats = Array.from({ length: size }, () => this.seat());
  }

  private seat(): Seat {
    const seat: Seat = { worker: this.make(), job: null };
    this.listen(seat);
    return seat;
  }

  private listen(seat: Seat): void {
    seat.worker.onmessage = ({ data }) => this.receive(seat, data);
    seat.worker.onerror = (event) => {
      // A worker that broke is replaced; its job fails with a name, the others go on.
      const { job } = seat;
      seat.worker.terminate();
      seat.worker = this.make();
      seat.job = null;
      this.listen(seat);
      job?.reject(new UpperRoomError('WORKER_FAILED', { message: event.message ?? 'worker stopped' }));
      this.pump();
    };
  }

  /** Runs a call on the next free worker. @throws UpperRoomError as the handler does, CANCELLED, WORKER_FAILED */
  call<K extends CallName>(
    call: K,
    params: Params<K>,
    options: { signal?: AbortSignal; onProgress?: (progress: Progress<K>) => void } = {},
  ): Promise<Result<K>> {
    return new Promise<Result<K>>((resolve, reject) => {
      if (options.signal?.aborted) return reject(new UpperRoomError('CANCELLED'));
      const job: Job = {
        jobId: this.nextId++,
        call,
        params,
        resolve,
        reject,
        onProgress: options.onProgress as Job['onProgress'],
        signal: options.signal,
      };
      options.signal?.addEventListener('abort', () => this.cancel(job), { once: true });
      this.queue.push(job);
      this.pump();
    });
  }

  private cancel(job: Job): void {
    const waiting = this.queue.indexOf(job);
    if (waiting >= 0) this.queue.splice(waiting, 1);
    else this.seats.find((seat) => seat.job === job)?.worker.postMessage({ type: 'cancel', jobId: job.jobId });
    job.reject(new UpperRoomError('CANCELLED'));
  }

  private pump(): void {
    for (const seat of this.seats) {
      if (seat.job !== null) continue;
      const job = this.queue.shift();
      if (job === undefined) return;
      seat.job = job;
      seat.worker.postMessage({ type: 'start', jobId: job.jobId, call: job.call, params: job.params });
    }
  }

  private receive(seat: Seat, message: FromWorker): void {
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
