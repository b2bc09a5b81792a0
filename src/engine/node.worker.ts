import { parentPort } from 'node:worker_threads';
import { jobsOf } from './jobs';
import type { ToWorker } from './protocol';

/** The server's thread. */
const port = parentPort!;
port.on('message', jobsOf((message) => port.postMessage(message)) as (message: ToWorker) => void);
