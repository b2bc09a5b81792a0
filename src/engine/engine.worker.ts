import { jobsOf } from './jobs';
import type { FromWorker, ToWorker } from './protocol';

/** The page's worker. */
const scope = self as unknown as { postMessage(message: FromWorker): void; onmessage: ((event: MessageEvent<ToWorker>) => void) | null };
const receive = jobsOf((message) => scope.postMessage(message));
scope.onmessage = ({ data }) => receive(data);
