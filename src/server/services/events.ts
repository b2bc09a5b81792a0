import { EventEmitter } from 'node:events';
import type { ProjectEvent } from '@/contract/http';

/** Who listens to which project. One for the process: route bundles share it through globalThis. */
const KEY = Symbol.for('upper-room.events');
const holder = globalThis as unknown as Record<symbol, EventEmitter | undefined>;

function emitter(): EventEmitter {
  return (holder[KEY] ??= new EventEmitter().setMaxListeners(0));
}

export function publish(projectId: string, event: ProjectEvent): void {
  emitter().emit(projectId, event);
}

/** Returns the way to stop listening. */
export function subscribe(projectId: string, listener: (event: ProjectEvent) => void): () => void {
  emitter().on(projectId, listener);
  return () => void emitter().off(projectId, listener);
}
