import { createHmac, randomBytes, scryptSync, timingSafeEqual } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { ERROR_MESSAGES, type ErrorCode } from '@/core/errors';

/**
 * The network edge: what every request passes before the application sees it. Who may ask, under which name, from which page, and, where
 * the server can be reached from elsewhere, with which pass phrase.
 */
export type EdgeOptions = Readonly<{
  /** The address the server listens on. */
  host: string;
  /** Further names under which it may be asked. */
  names: readonly string[];
  /** Required where `host` is not a loopback address. */
  passPhrase: string | null;
}>;

const METHODS = ['GET', 'HEAD', 'POST', 'DELETE'];
const COOKIE = 'upper-room';
const SESSION_HOURS = 24 * 7;
/** Wrong pass phrases in a minute, from everywhere together: a person makes fewer, a guesser gets no further. */
const TRIES_A_MINUTE = 5;
const MAX_FORM_BYTES = 4096;

const bare = (host: string): string => host.replace(/^\[|\]$/g, '').toLowerCase();

/** 127.0.0.0/8, ::1 and their name (RFC 1122 3.2.1.3, RFC 4291 2.5.3, RFC 6761 6.3). */
export function isLoopback(host: string): boolean {
  const name = bare(host);
  return name === 'localhost' || name === '::1' || /^127(\.\d{1,3}){3}$/.test(name);
}

/** A host as it stands in an address: IPv6 in brackets. */
export const urlHost = (host: string): string => (bare(host).includes(':') ? `[${bare(host)}]` : host);

/** Why the server must not listen on this address; null when it may. */
export function refusalOf({ host, passPhrase }: Pick<EdgeOptions, 'host' | 'passPhrase'>): string | null {
  if (passPhrase !== null && passPhrase.length < 12) return 'UPPER_ROOM_PASSPHRASE must have at least 12 characters.';
  if (isLoopback(host) || passPhrase !== null) return null;
  return `${host} can be reached from other machines, and there is no pass phrase. Set UPPER_ROOM_PASSPHRASE (12 characters or more), or leave HOST at 127.0.0.1.`;
}

/** The name in a Host header, without its port; null where it is none. */
function nameIn(header: string | undefined): string | null {
  if (header === undefined || !URL.canParse(`http://${header}`)) return null;
  return bare(new URL(`http://${header}`).hostname);
}

function answer(response: ServerResponse, status: number, code: ErrorCode, headers: Record<string, string> = {}): void {
  response.writeHead(status, { 'content-type': 'application/problem+json', 'cache-control': 'no-store', ...headers });
  response.end(
    JSON.stringify({
      type: `urn:upper-room:problem:${code.toLowerCase().replaceAll('_', '-')}`,
      title: ERROR_MESSAGES[code],
      status,
      detail: ERROR_MESSAGES[code],
      code,
      requestId: '',
    }),
  );
}

/** Returns a handler that lets a request through (true) or has answered it (false). */
export function edge(options: EdgeOptions): (request: IncomingMessage, response: ServerResponse) => Promise<boolean> {
  const own = bare(options.host);
  const anywhere = own === '0.0.0.0' || own === '::';
  const allowed = new Set(['localhost', '127.0.0.1', '::1', ...(anywhere ? [] : [own]), ...options.names.map(bare)]);
  const signIn = options.passPhrase === null ? null : signInWith(options.passPhrase);

  return async (request, response) => {
    const { method = '', url = '', headers } = request;
    if (!METHODS.includes(method)) {
      answer(response, 405, 'METHOD_UNKNOWN', { allow: METHODS.join(', ') });
      return false;
    }
    if (!isDecodable(url)) {
      answer(response, 400, 'BODY_INVALID');
      return false;
    }
    // A page of elsewhere whose name was made to point here asks under its own name (DNS rebinding).
    const name = nameIn(headers.host);
    if (name === null || !(allowed.has(name) || isLoopback(name))) {
      answer(response, 421, 'HOST_UNKNOWN');
      return false;
    }
    if (isForeign(request)) {
      answer(response, 403, 'ORIGIN_FOREIGN');
      return false;
    }
    return signIn === null || signIn(request, response);
  };
}

/** Whether every percent sign begins a character; the framework would call it a fault of its own. */
function isDecodable(url: string): boolean {
  try {
    decodeURIComponent(url);
    return true;
  } catch {
    return false;
  }
}

/** Whether a page of another site asks. Following a link to a page of ours is no asking (Fetch Metadata, W3C). */
function isForeign({ method, url = '', headers }: IncomingMessage): boolean {
  const { origin, host } = headers;
  if (origin !== undefined && (!URL.canParse(origin) || new URL(origin).host !== host)) return true;
  const site = headers['sec-fetch-site'];
  if (site === undefined || site === 'same-origin' || site === 'none') return false;
  const isVisit =
    method === 'GET' && headers['sec-fetch-mode'] === 'navigate' && headers['sec-fetch-dest'] === 'document' && !url.startsWith('/api/');
  return !isVisit;
}

/** Asks for the pass phrase, remembers who gave it by a signed cookie, and slows down who guesses. */
function signInWith(passPhrase: string) {
  const salt = randomBytes(16);
  const keyOf = (text: string): Buffer => scryptSync(text, salt, 32);
  const expected = keyOf(passPhrase);
  const secret = randomBytes(32);
  const sign = (until: string): string => createHmac('sha256', secret).update(until).digest('base64url');
  let wrong: number[] = [];

  const isSignedIn = (cookies: string | undefined): boolean => {
    const [until, signature] = (cookies ?? '').match(new RegExp(`(?:^|; )${COOKIE}=([^;]+)`))?.[1]?.split('.') ?? [];
    if (until === undefined || signature === undefined || !(Number(until) > Date.now())) return false;
    const [given, own] = [Buffer.from(signature), Buffer.from(sign(until))];
    return given.length === own.length && timingSafeEqual(given, own);
  };

  return async (request: IncomingMessage, response: ServerResponse): Promise<boolean> => {
    if (isSignedIn(request.headers.cookie)) return true;
    if (request.method === 'POST' && request.url === '/sign-in') {
      // By a clock that is never put back: setting the machine's clock locks nobody out and lets nobody try more often.
      wrong = wrong.filter((at) => at > performance.now() - 60_000);
      if (wrong.length >= TRIES_A_MINUTE) {
        page(response, 429, ERROR_MESSAGES.TOO_MANY_TRIES);
        return false;
      }
      const given = new URLSearchParams(await readForm(request)).get('phrase') ?? '';
      if (!timingSafeEqual(keyOf(given), expected)) {
        wrong.push(performance.now());
        page(response, 401, 'That is not the pass phrase.');
        return false;
      }
      const until = String(Date.now() + SESSION_HOURS * 3600_000);
      response.writeHead(303, {
        location: '/',
        'set-cookie': `${COOKIE}=${until}.${sign(until)}; HttpOnly; SameSite=Strict; Path=/; Max-Age=${SESSION_HOURS * 3600}`,
      });
      response.end();
      return false;
    }
    if (request.method === 'GET' && !(request.url ?? '').startsWith('/api/')) page(response, 401, '');
    else answer(response, 401, 'SIGN_IN_NEEDED');
    return false;
  };
}

async function readForm(request: IncomingMessage): Promise<string> {
  let text = '';
  for await (const chunk of request) {
    text += String(chunk);
    if (text.length > MAX_FORM_BYTES) return '';
  }
  return text;
}

/** The one page that is there before the application is: plain, and without scripts. */
function page(response: ServerResponse, status: number, problem: string): void {
  response.writeHead(status, {
    'content-type': 'text/html; charset=utf-8',
    'cache-control': 'no-store',
    'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'",
    'referrer-policy': 'same-origin',
  });
  response.end(`<!doctype html><html lang="en"><meta charset="utf-8"><title>Upper Room</title>
<style>body{font:16px system-ui;background:#f7f3ea;color:#1b2733;max-width:26em;margin:15vh auto;padding:0 1em}input,button{font:inherit;padding:.4em .7em}button{background:#9c1f5e;color:#fff;border:0}</style>
<h1>Upper Room</h1><form method="post" action="/sign-in"><p><label for="phrase">Pass phrase</label></p>
<p><input id="phrase" name="phrase" type="password" autocomplete="current-password" required autofocus> <button>Sign in</button></p>
<p role="alert">${problem}</p></form></html>`);
}
