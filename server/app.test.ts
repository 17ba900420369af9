import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { request, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { makeApp } from './app';
import { keptPassword } from './dav';
import { offlineScript } from './keepOffline';

let folder = '';
let server: Server;
let url = '';
const HASHED = '_expo/entry-0123456789abcdef0123456789abcdef.js';

beforeAll(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'scrivo-server-'));
  mkdirSync(path.join(folder, '_expo'));
  mkdirSync(path.join(folder, 'demo'));
  writeFileSync(path.join(folder, 'index.html'), '<html><style>a{b:c}</style><script src="/x.js"></script><div id="root"></div></html>');
  writeFileSync(path.join(folder, HASHED), `/*${'a'.repeat(5000)}*/`);
  writeFileSync(path.join(folder, 'app.css'), 'b{c:d}');
  writeFileSync(path.join(folder, 'demo', 'notes.json'), '[{"id":"a","file":"a.scrivo"}]');
  const app = makeApp({ dist: folder, demo: path.join(folder, 'demo'), withDemo: true, hosts: ['pilots.example'], dav: { folder: path.join(folder, 'dav'), user: 'pilot', password: 'höhe' } });
  server = await new Promise<Server>((resolve) => {
    const s = app.listen(0, '127.0.0.1', () => resolve(s));
  });
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(async () => {
  await new Promise((resolve) => server.close(resolve));
  rmSync(folder, { recursive: true });
});

test('isolates the page and allows no script or style but its own', async () => {
  const { headers } = await fetch(url);
  expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
  expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
  const policy = headers.get('content-security-policy')!;
  expect(policy).toContain("default-src 'self'");
  expect(policy).not.toMatch(/unsafe-inline|'unsafe-eval'|\*/);
  // SHA-256 of `a{b:c}`, so that the page's own style passes: openssl dgst -sha256 -binary | base64.
  expect(policy).toContain(`'sha256-${createHash('sha256').update('a{b:c}').digest('base64')}'`);
  expect(headers.get('x-powered-by')).toBeNull();
});

test('keeps hashed files for a year, asks for others anew, never stores the page', async () => {
  const cache = async (p: string) => (await fetch(`${url}${p}`)).headers.get('cache-control');
  expect(await cache(`/${HASHED}`)).toBe('public, max-age=31536000, immutable');
  expect(await cache('/app.css')).toBe('no-cache');
  expect(await cache('/')).toBe('no-store');
  expect(await cache('/index.html')).toBe('no-store');
  expect(await cache('/note/abc')).toBe('no-store');
});

test('compresses', async () => {
  const answer = await fetch(`${url}/${HASHED}`, { headers: { 'accept-encoding': 'gzip' } });
  expect(answer.headers.get('content-encoding')).toBe('gzip');
});

test('answers unknown paths with the application, missing files with 404', async () => {
  const page = await fetch(`${url}/note/some-id`);
  expect([page.status, await page.text()]).toEqual([200, expect.stringContaining('id="root"')]);
  expect((await fetch(`${url}/missing.js`)).status).toBe(404);
  expect((await fetch(`${url}/demo/missing.scrivo`)).status).toBe(404);
  expect((await fetch(`${url}/demo/..%2f..%2fetc%2fpasswd`)).status).toBeGreaterThanOrEqual(400);
  expect(await (await fetch(`${url}/demo/notes.json`)).json()).toEqual({ auto: true, notes: [{ id: 'a', file: 'a.scrivo' }] });
  expect(await (await fetch(`${url}/health`)).json()).toEqual({ ok: true });
});

/** With a Host header of one's own, which fetch does not allow. */
const statusFor = (host: string): Promise<number> =>
  new Promise((resolve, reject) => {
    request({ host: '127.0.0.1', port: new URL(url).port, path: '/health', headers: { host } }, (res) => resolve(res.resume().statusCode!))
      .on('error', reject)
      .end();
  });

test('answers under its own names alone: a name that was made to lead here gets nothing', async () => {
  const port = new URL(url).port;
  for (const own of [`127.0.0.1:${port}`, `localhost:${port}`, 'LOCALHOST', `[::1]:${port}`, `pilots.example:${port}`]) expect([own, await statusFor(own)]).toEqual([own, 200]);
  for (const foreign of [`rebound.example:${port}`, 'localhost.rebound.example', '127.0.0.1.rebound.example', `127.0.0.2:${port}`]) expect([foreign, await statusFor(foreign)]).not.toEqual([foreign, 200]);
});

test('what is kept without a network is known by its content, not by its size', () => {
  const version = () => /VERSION = "(\w+)"/.exec(offlineScript(folder))![1];
  const before = version();
  expect(version()).toBe(before);
  writeFileSync(path.join(folder, 'app.css'), 'b{c:e}');
  expect(version()).not.toBe(before);
});

test('the WebDAV stand-in answers to its name and password alone (RFC 7617), and to no other site', async () => {
  const ask = (headers: Record<string, string>, at = '/dav/') => fetch(`${url}${at}`, { method: 'PROPFIND', headers: { depth: '0', ...headers } });
  // Name and password as UTF-8 in base64, made by: printf 'pilot:höhe' | base64
  const right = { authorization: 'Basic cGlsb3Q6aMO2aGU=' };
  expect((await ask(right)).status).toBe(207);
  expect((await ask({ ...right, origin: url })).status).toBe(207);
  expect((await ask({ ...right, origin: 'http://elsewhere.example' })).status).toBe(403);
  for (const at of ['/dav', '/dav/', '/DAV/', '/dav/x']) {
    const none = await ask({}, at);
    expect([at, none.status, none.headers.get('www-authenticate')]).toEqual([at, 401, expect.stringMatching(/^Basic realm=/)]);
  }
  expect((await ask({ authorization: 'Basic cGlsb3Q6cGlsb3Q=' })).status).toBe(401);
  expect((await fetch(`${url}/dav/x`, { method: 'PUT', body: 'x', headers: { authorization: 'Bearer x' } })).status).toBe(401);
  expect(existsSync(path.join(folder, 'dav', 'x'))).toBe(false);
  expect((await fetch(`${url}/dav/x`, { method: 'PUT', body: 'x', headers: right })).status).toBe(201);
  expect(existsSync(path.join(folder, 'dav', 'x'))).toBe(true);
});

test('the password is made once and kept where nobody else can read it', () => {
  const file = path.join(folder, 'kept', 'password');
  const first = keptPassword(file);
  expect(first).toMatch(/^[\w-]{12}$/);
  expect(keptPassword(file)).toBe(first);
  expect(statSync(file).mode & 0o077).toBe(0);
  expect(keptPassword(path.join(folder, 'kept', 'other'))).not.toBe(first);
});
