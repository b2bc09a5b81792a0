import { afterAll, afterEach, describe, expect, test } from '@jest/globals';
import { v7 as uuid } from 'uuid';
import type { OpenedProject, Problem } from '@/contract/http';
import { edit } from '@/core/design/commands';
import { newStep, type Change } from '@/core/design/step';
import { startServer, type RunningServer } from './server';

let running: RunningServer[] = [];
afterEach(async () => {
  await Promise.all(running.map((server) => server.stop()));
  running = [];
});
async function start(options: Parameters<typeof startServer>[0] = {}): Promise<RunningServer> {
  const server = await startServer(options);
  running.push(server);
  return server;
}

/** One server for all that only ask it something, and leave it as it was. */
let ordinary: Promise<RunningServer> | null = null;
const ordinaryServer = (): Promise<RunningServer> => (ordinary ??= startServer());
afterAll(async () => {
  await (await ordinary)?.stop();
});

const get = async <T>(server: RunningServer, path: string): Promise<T> => (await fetch(server.url + path)).json() as Promise<T>;
const post = (server: RunningServer, path: string, body: unknown, method = 'POST') =>
  fetch(server.url + path, { method, body: typeof body === 'string' ? body : JSON.stringify(body), headers: { 'content-type': 'application/json' } });
const stepOf = (revision: number, changes: Change[]) => ({
  baseRevision: revision,
  step: newStep(uuid(), 'Move', 'tester', changes),
});

describe('the process', () => {
  test('kill -9 in the middle of edits loses nothing that was acknowledged', async () => {
    const server = await start();
    const { design, revision } = await get<OpenedProject>(server, '/api/projects/cottage');
    const acknowledged: number[] = [];
    let killed = false;
    let present = design;
    const editing = (async () => {
      for (let n = 1; !killed; n++) {
        const changes = edit(present, 'accessPoints', 'cottage-ap-001', { xM: n / 1000 });
        const response = await post(server, '/api/projects/cottage/steps', stepOf(revision + n - 1, changes)).catch(() => null);
        if (response?.ok !== true) return;
        acknowledged.push(n);
        present = {
          ...present,
          accessPoints: { ...present.accessPoints, 'cottage-ap-001': { ...present.accessPoints['cottage-ap-001']!, xM: n / 1000 } },
        };
      }
    })();
    while (acknowledged.length < 40) await new Promise((resolve) => setTimeout(resolve, 5));
    killed = true;
    await server.stop('SIGKILL');
    await editing;
    running = [];
    // The same folder: the lock of the killed process must not stand in the way.
    const again = await start({ folder: server.folder });
    const after = await get<OpenedProject>(again, '/api/projects/cottage');
    const last = acknowledged.at(-1)!;
    expect(after.revision).toBeGreaterThanOrEqual(revision + last);
    expect(after.design.accessPoints['cottage-ap-001']!.xM).toBeGreaterThanOrEqual(last / 1000);
    const log = await get<Array<{ revision: number }>>(again, `/api/projects/cottage/steps?after=${revision}`);
    expect(log.map((step) => step.revision).slice(0, last)).toEqual(acknowledged.map((n) => revision + n));
  });

  test('a second process on the same data folder is refused with a clear message', async () => {
    const server = await ordinaryServer();
    await expect(startServer({ folder: server.folder })).rejects.toThrow(/data folder is in use by another running Upper Room/);
    expect((await fetch(`${server.url}/api/projects`)).status).toBe(200);
  });

  test('a busy port is said at once, with what to do', async () => {
    const server = await ordinaryServer();
    await expect(startServer({ port: server.port })).rejects.toThrow(new RegExp(`Port ${server.port} on 127.0.0.1 is in use.*PORT=`, 's'));
  });

  test('SIGINT ends it cleanly, and --empty starts without the demo', async () => {
    const server = await startServer({ args: ['--empty'] });
    expect(await get(server, '/api/projects')).toEqual({ projects: [], next: null, total: 0 });
    expect(await server.stop('SIGINT')).toBe(0);
    await expect(startServer({ args: ['--emty'] })).rejects.toThrow(/Unknown option --emty/);
  });
});

describe('the door', () => {
  test('an address that others can reach is refused without a pass phrase, and asks for it with one', async () => {
    await expect(startServer({ env: { HOST: '0.0.0.0' } })).rejects.toThrow(/can be reached from other machines.*UPPER_ROOM_PASSPHRASE/s);
    const server = await start({ env: { HOST: '0.0.0.0', UPPER_ROOM_PASSPHRASE: 'a ship in harbour' } });
    expect((await fetch(`${server.url}/api/projects`)).status).toBe(401);
    const signed = await fetch(`${server.url}/sign-in`, {
      method: 'POST',
      body: new URLSearchParams({ phrase: 'a ship in harbour' }),
      redirect: 'manual',
    });
    const cookie = signed.headers.get('set-cookie')!.split(';')[0]!;
    expect((await fetch(`${server.url}/api/projects`, { headers: { cookie } })).status).toBe(200);
  });
  test('pages say who may run what on them and who may frame them, and not what serves them', async () => {
    const server = await ordinaryServer();
    const answer = await fetch(server.url);
    const policy = answer.headers.get('content-security-policy')!;
    expect(policy).toMatch(/script-src 'self' 'nonce-[\w+/=]+' 'strict-dynamic'/);
    expect(policy).toContain("frame-ancestors 'none'");
    expect(answer.headers.get('x-powered-by')).toBeNull();
    expect(answer.headers.get('referrer-policy')).toBe('same-origin');
    const again = (await fetch(server.url)).headers.get('content-security-policy');
    expect(again).not.toBe(policy);
  });
  test('it listens on IPv6 as well', async () => {
    const server = await start({ env: { HOST: '::1' } });
    expect(server.output()).toContain(`http://[::1]:${server.port}`);
    expect((await fetch(`http://[::1]:${server.port}/api/health`)).status).toBe(200);
  });
});

describe('bad input', () => {
  test('is answered with a problem and a reason, never with 500, and changes nothing', async () => {
    const server = await ordinaryServer();
    const before = await get<OpenedProject>(server, '/api/projects/cottage');
    const { revision, design } = before;
    const ap = design.accessPoints['cottage-ap-001']!;
    const change = (after: unknown) => stepOf(revision, [{ table: 'accessPoints', id: ap.id, before: ap, after } as Change]);
    const cases: Array<[string, string, unknown, number, string, string?]> = [
      ['not JSON', '/api/projects/cottage/steps', '{"step":', 400, 'BODY_NOT_JSON'],
      ['an empty body', '/api/projects/cottage/steps', '', 400, 'BODY_NOT_JSON'],
      ['a list', '/api/projects/cottage/steps', [], 422, 'BODY_INVALID'],
      ['300 dBm', '/api/projects/cottage/steps', change({ ...ap, radios: [{ ...ap.radios[0], txPowerDbm: 300 }] }), 422, 'BODY_INVALID'],
      ['NaN as null', '/api/projects/cottage/steps', change({ ...ap, xM: NaN }), 422, 'BODY_INVALID'],
      ['1e9 m', '/api/projects/cottage/steps', change({ ...ap, yM: 1e9 }), 422, 'BODY_INVALID'],
      ['text for a number', '/api/projects/cottage/steps', change({ ...ap, heightM: 'high' }), 422, 'BODY_INVALID'],
      ['an unknown floor', '/api/projects/cottage/steps', change({ ...ap, floorId: 'cellar' }), 422, 'REFERENCE_BROKEN'],
      [
        'a record that is gone',
        '/api/projects/cottage/steps',
        stepOf(revision, [{ table: 'accessPoints', id: 'ghost', before: { ...ap, id: 'ghost' }, after: { ...ap, id: 'ghost', xM: 1 } }]),
        409,
        'STEP_CONFLICT',
      ],
      ['a revision to come', '/api/projects/cottage/steps', { ...change({ ...ap, xM: 1 }), baseRevision: 999 }, 409, 'REVISION_AHEAD'],
      ['an unknown project', '/api/projects/atlantis/steps', change({ ...ap, xM: 1 }), 404, 'PROJECT_UNKNOWN'],
      ['a name with NUL', '/api/projects', { name: 'a\u0000b', units: 'metric', domain: 'EU', widthM: 10, heightM: 10 }, 422, 'BODY_INVALID'],
      [
        'a name with half a character',
        '/api/projects',
        '{"name":"a\\ud800","units":"metric","domain":"EU","widthM":10,"heightM":10}',
        422,
        'BODY_INVALID',
      ],
      ['an id with NUL', '/api/projects/a%00b/steps', change({ ...ap, xM: 1 }), 404, 'PROJECT_UNKNOWN'],
      ['an id with a quote', `/api/projects/${encodeURIComponent("x' OR 1=1")}/steps`, change({ ...ap, xM: 1 }), 404, 'PROJECT_UNKNOWN'],
      [
        'samples for no walk',
        '/api/projects/cottage/walks/none/samples',
        {
          batchId: 'b',
          samples: [
            { leg: 0, tMs: 0, xM: 0, yM: 0, bssid: '02:00:00:00:00:01', ssid: '', apId: null, band: '5', channel: 36, widthMhz: 20, rssiDbm: -50 },
          ],
        },
        404,
        'WALK_UNKNOWN',
      ],
      ['no samples', '/api/projects/cottage/walks/none/samples', { batchId: 'b', samples: [] }, 422, 'BODY_INVALID'],
      ['a project without name', '/api/projects', { name: ' ', units: 'metric', domain: 'EU', widthM: 10, heightM: 10 }, 422, 'BODY_INVALID'],
      ['a project of 1e9 m', '/api/projects', { name: 'x', units: 'metric', domain: 'EU', widthM: 1e9, heightM: 10 }, 422, 'BODY_INVALID'],
      ['a copy of nothing', '/api/projects', { copyOf: 'nothing', name: 'x' }, 404, 'PROJECT_UNKNOWN'],
      ['a restore of nothing', '/api/projects/nothing/restore', {}, 404, 'PROJECT_UNKNOWN'],
    ];
    for (const [what, path, body, status, code] of cases) {
      const response = await post(server, path, body);
      const problem = (await response.json()) as Problem;
      expect({ what, status: response.status, code: problem.code }).toEqual({ what, status, code });
      expect(response.headers.get('content-type')).toContain('application/problem+json');
      expect(problem.title.length).toBeGreaterThan(15);
      if (code === 'BODY_INVALID') expect(problem.errors!.length).toBeGreaterThan(0);
    }
    for (const path of [
      '/api/projects/nothing',
      '/api/events?project=..%2F',
      '/api/projects/nothing/log',
      '/api/projects/cottage/steps/nothing',
      '/api/projects/cottage/walks/nothing/samples',
    ])
      expect((await fetch(server.url + path)).status).toBe(404);
    expect((await fetch(`${server.url}/api/projects/%E0%A4%A`)).status).toBe(400);
    expect((await fetch(`${server.url}/api/projects/cottage/steps?after=NaN`)).status).toBe(200);
    expect((await post(server, '/api/projects/nothing', {}, 'DELETE')).status).toBe(404);
    expect(await get(server, '/api/projects/cottage')).toEqual(before);
  });

  test('a page of another site is refused, whatever it asks', async () => {
    const server = await ordinaryServer();
    const from = (origin: string, method = 'GET') =>
      fetch(`${server.url}/api/projects/cottage`, { method, headers: { origin } }).then((response) => response.status);
    expect(await from('https://elsewhere.example', 'DELETE')).toBe(403);
    expect(await from('null')).toBe(403);
    expect(await from(server.url)).toBe(200);
  });

  test('a body of 50 MB is refused and the server goes on', async () => {
    const server = await ordinaryServer();
    const response = await post(server, '/api/projects/cottage/steps', 'x'.repeat(50 * 1024 * 1024)).catch((error: Error) => error);
    // The server may close the connection before the client has sent all of it; either way nothing is taken.
    if (response instanceof Response) expect(response.status).toBe(413);
    expect((await fetch(`${server.url}/api/projects/cottage`)).status).toBe(200);
  });

  test('a stale step is merged where it can be, and a step to a deleted project is told so', async () => {
    const server = await ordinaryServer();
    const { revision, design } = await get<OpenedProject>(server, '/api/projects/cottage');
    await post(server, '/api/projects/cottage/steps', stepOf(revision, edit(design, 'accessPoints', 'cottage-ap-002', { xM: 1 })));
    const stale = await post(server, '/api/projects/cottage/steps', stepOf(revision, edit(design, 'accessPoints', 'cottage-ap-002', { yM: 2 })));
    expect(stale.status).toBe(200);
    expect((await get<OpenedProject>(server, '/api/projects/cottage')).design.accessPoints['cottage-ap-002']).toMatchObject({ xM: 1, yM: 2 });
    expect((await fetch(`${server.url}/api/projects/cottage`, { method: 'DELETE' })).status).toBe(204);
    expect(
      (await post(server, '/api/projects/cottage/steps', stepOf(revision, edit(design, 'accessPoints', 'cottage-ap-002', { yM: 3 })))).status,
    ).toBe(410);
    expect((await post(server, '/api/projects/cottage/restore', {})).status).toBe(204);
    expect((await fetch(`${server.url}/api/projects/cottage`)).status).toBe(200);
  });
});
