import { afterEach, describe, expect, test } from '@jest/globals';
import { createServer, request as ask, type IncomingHttpHeaders, type Server } from 'node:http';
import { edge, isLoopback, refusalOf, urlHost, type EdgeOptions } from './edge';

const servers: Server[] = [];
afterEach(() => {
  for (const server of servers.splice(0)) {
    server.closeAllConnections();
    server.close();
  }
});

/** A server behind an edge that answers "inside" to what is let through. */
async function serve(options: Partial<EdgeOptions> = {}): Promise<number> {
  const admitted = edge({ host: '127.0.0.1', names: [], passPhrase: null, ...options });
  const server = createServer((request, response) => void admitted(request, response).then((lets) => lets && response.end('inside')));
  servers.push(server);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()));
  return (server.address() as { port: number }).port;
}

type Answer = { status: number; headers: IncomingHttpHeaders; text: string };
const call = (port: number, headers: Record<string, string> = {}, method = 'GET', path = '/', body = ''): Promise<Answer> =>
  new Promise((resolve, reject) => {
    const sent = ask({ port, host: '127.0.0.1', method, path, headers: { host: `127.0.0.1:${port}`, ...headers } }, (response) => {
      let text = '';
      response.on('data', (chunk: Buffer) => (text += chunk.toString()));
      response.on('end', () => resolve({ status: response.statusCode!, headers: response.headers, text }));
    });
    sent.on('error', reject);
    sent.end(body);
  });

test.each([
  ['127.0.0.1', true],
  ['127.8.9.1', true],
  ['::1', true],
  ['[::1]', true],
  ['localhost', true],
  ['0.0.0.0', false],
  ['::', false],
  ['192.168.1.4', false],
  ['127.0.0.1.example', false],
])('%s is a loopback address: %s', (host, expected) => expect(isLoopback(host)).toBe(expected));

test('an address that others can reach needs a pass phrase worth the name', () => {
  expect(refusalOf({ host: '127.0.0.1', passPhrase: null })).toBeNull();
  expect(refusalOf({ host: '0.0.0.0', passPhrase: null })).toContain('UPPER_ROOM_PASSPHRASE');
  expect(refusalOf({ host: '::', passPhrase: 'short' })).toContain('12');
  expect(refusalOf({ host: '0.0.0.0', passPhrase: 'a ship in harbour' })).toBeNull();
  expect([urlHost('::1'), urlHost('127.0.0.1')]).toEqual(['[::1]', '127.0.0.1']);
});

describe('who may ask', () => {
  test('only names of this server are answered: a name made to point here is another', async () => {
    const port = await serve({ names: ['plans.example'] });
    for (const host of [`127.0.0.1:${port}`, `localhost:${port}`, `[::1]:${port}`, 'plans.example', `PLANS.example:${port}`])
      expect({ host, status: (await call(port, { host })).status }).toEqual({ host, status: 200 });
    for (const host of ['rebound.example', `evil.localhost.example:${port}`, '10.0.0.1', '', 'a b'])
      expect({ host, status: (await call(port, { host })).status }).toEqual({
        host,
        status: host === '' || host === 'a b' ? expect.any(Number) : 421,
      });
    expect((await call(port, { host: 'rebound.example' }, 'POST', '/api/projects')).text).toContain('HOST_UNKNOWN');
  });
  test('a page of another site is refused, but a link may lead to a page of ours', async () => {
    const port = await serve();
    const own = `http://127.0.0.1:${port}`;
    expect((await call(port, { origin: own, 'sec-fetch-site': 'same-origin' }, 'POST', '/api/projects')).status).toBe(200);
    for (const headers of [
      { origin: 'https://elsewhere.example' },
      { origin: 'null' },
      { 'sec-fetch-site': 'cross-site' },
      { 'sec-fetch-site': 'same-site' },
      { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'iframe' },
    ] as Array<Record<string, string>>)
      expect({ headers, status: (await call(port, headers)).status }).toEqual({ headers, status: 403 });
    const link = { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'document' };
    expect((await call(port, link)).status).toBe(200);
    expect((await call(port, link, 'GET', '/api/projects')).status).toBe(403);
    expect((await call(port, link, 'POST')).status).toBe(403);
    expect((await call(port, { 'sec-fetch-site': 'none' })).status).toBe(200);
  });
  test('methods that nothing here answers, and addresses that cannot be read', async () => {
    const port = await serve();
    for (const method of ['TRACE', 'PUT', 'PATCH', 'OPTIONS']) {
      const answer = await call(port, {}, method);
      expect([answer.status, answer.headers.allow]).toEqual([405, 'GET, HEAD, POST, DELETE']);
    }
    expect((await call(port, {}, 'GET', '/%E0%A4%A')).status).toBe(400);
  });
});

describe('the pass phrase', () => {
  const passPhrase = 'a ship in harbour';
  const give = (port: number, phrase: string) => call(port, {}, 'POST', '/sign-in', new URLSearchParams({ phrase }).toString());

  test('nothing is answered without it; with it a cookie lets in, and only that cookie', async () => {
    const port = await serve({ passPhrase });
    expect((await call(port)).text).toContain('Pass phrase');
    expect(JSON.parse((await call(port, {}, 'GET', '/api/projects')).text)).toMatchObject({ status: 401, code: 'SIGN_IN_NEEDED' });
    expect((await call(port, {}, 'POST', '/api/projects')).status).toBe(401);
    expect((await give(port, 'a ship at sea')).status).toBe(401);
    const signed = await give(port, passPhrase);
    expect(signed.status).toBe(303);
    const set = signed.headers['set-cookie']![0]!;
    expect(set).toMatch(/HttpOnly; SameSite=Strict/);
    const cookie = set.split(';')[0]!;
    expect((await call(port, { cookie: `other=1; ${cookie}` }, 'POST', '/api/projects')).text).toBe('inside');
    const [name, value] = cookie.split('=') as [string, string];
    const [until, signature] = value.split('.') as [string, string];
    for (const forged of [`${Number(until) + 1}.${signature}`, `${until}.${signature.slice(1)}`, until, `1.${signature}`])
      expect((await call(port, { cookie: `${name}=${forged}` }, 'GET', '/api/x')).status).toBe(401);
    // Another start signs with another secret.
    const other = await serve({ passPhrase });
    expect((await call(other, { cookie }, 'GET', '/api/x')).status).toBe(401);
  });
  test('guessing is slowed down, for the right phrase too', async () => {
    const port = await serve({ passPhrase });
    for (let i = 0; i < 5; i++) expect((await give(port, `guess ${i}`)).status).toBe(401);
    expect((await give(port, 'guess 6')).status).toBe(429);
    expect((await give(port, passPhrase)).status).toBe(429);
    expect((await give(port, 'x'.repeat(100_000))).status).toBe(429);
  });
});
