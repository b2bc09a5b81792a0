import type { OpenedProject } from '@/contract/http';
import { seeded } from '@/core/random';
import { edit } from '@/core/design/commands';
import { newStep } from '@/core/design/step';
import { startServer } from '../e2e/server';

const REQUESTS = 6000;

/** Random damage to good requests: no answer may be a fault of the server, and nothing may change. */
export async function malformed(): Promise<string> {
  const server = await startServer();
  const get = async () => (await fetch(`${server.url}/api/projects/cottage`)).json() as Promise<OpenedProject>;
  const before = await get();
  const uniform = seeded(6000);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(uniform() * list.length)]!;
  const nonsense = [null, -1, 1e308, '', 'x', '\u0000', '__proto__', 'constructor', [], {}, [[]], true, 'a'.repeat(3000), { length: -1 }];
  const damaged = (value: unknown, depth = 0): unknown => {
    if (typeof value !== 'object' || value === null || uniform() < 0.08) return pick(nonsense);
    const keys = Object.keys(value);
    const key = pick(keys);
    const copy: Record<string, unknown> | unknown[] = Array.isArray(value) ? [...(value as unknown[])] : { ...value };
    if (key === undefined) return pick(nonsense);
    const target = copy as Record<string, unknown>;
    const way = uniform();
    if (way < 0.15) delete target[key];
    else if (way < 0.3) target[pick(['extra', 'toString', '__proto__x', key.toUpperCase()])] = pick(nonsense);
    else target[key] = depth < 6 ? damaged(target[key], depth + 1) : pick(nonsense);
    return copy;
  };
  const good = () => ({
    baseRevision: before.revision,
    step: newStep('trial', 'Trial', 'tester', edit(before.design, 'accessPoints', 'cottage-ap-001', { xM: 1 })),
  });
  const paths = ['steps', 'walks/none/samples', 'receiver', 'restore-nothing', 'steps/nothing'].map((path) => `/api/projects/cottage/${path}`);
  const byStatus = new Map<number, number>();
  let faults = 0;
  /** Some damage leaves a request valid: those steps may stand, each once. */
  const taken = new Set<number>();
  const send = async () => {
    const text = JSON.stringify(damaged(good()));
    const cut = uniform();
    const body = cut < 0.1 ? text.slice(0, Math.floor(text.length * uniform())) : cut < 0.13 ? '['.repeat(5000) : cut < 0.15 ? `{"a":${text}` : text;
    const path =
      uniform() < 0.8
        ? paths[0]!
        : pick([...paths, `/api/projects/${encodeURIComponent(String(pick(nonsense)))}/steps`, '/api/projects?after=%00', '/api/events']);
    const method = uniform() < 0.9 ? 'POST' : pick(['DELETE', 'PUT', 'PATCH', 'HEAD']);
    // The project itself must stay: only what is below it may be asked to be deleted.
    if (method === 'DELETE' && !/samples|steps/.test(path)) return;
    const hasBody = method !== 'HEAD';
    const response = await fetch(server.url + path, {
      method,
      ...(hasBody ? { body } : {}),
      headers: { 'content-type': pick(['application/json', 'text/plain', 'x/y']) },
    }).catch(() => null);
    const status = response?.status ?? 0;
    byStatus.set(status, (byStatus.get(status) ?? 0) + 1);
    if (status >= 500) faults++;
    const answer = (await response?.json().catch(() => null)) as { revision?: number } | null;
    if (status === 200 && path === paths[0] && method === 'POST' && answer?.revision !== undefined) taken.add(answer.revision);
  };
  for (let i = 0; i < REQUESTS; i += 20) await Promise.all(Array.from({ length: 20 }, send));
  const after = await get();
  await server.stop();
  const changed = after.revision - before.revision - taken.size;
  const statuses = [...byStatus].sort(([a], [b]) => a - b).map(([status, n]) => `${status}: ${n}`);
  return `${REQUESTS} requests (${statuses.join(', ')}), ${faults} x 5xx, ${taken.size} steps that were still valid, ${changed} other changes`;
}
