/** A WebDAV server of its own for backups (RFC 4918): it stands in for the one a user has elsewhere. */
import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { RequestHandler } from 'express';
import { v2 as webdav } from 'webdav-server';

export interface DavAccount {
  /** Everything lies in it. */
  readonly folder: string;
  readonly user: string;
  readonly password: string;
}

export const DAV_USER = 'pilot';

/** A password nobody could guess: 12 letters, 72 bits. */
const newPassword = (): string => randomBytes(9).toString('base64url');

/** The password kept in a file beside the demo's folder, made at the first start, so that what was typed into the demo once goes on to work. */
export function keptPassword(file: string): string {
  const kept = existsSync(file) ? readFileSync(file, 'utf8').trim() : '';
  if (kept) return kept;
  const made = newPassword();
  mkdirSync(path.dirname(file), { recursive: true });
  writeFileSync(file, `${made}\n`, { mode: 0o600 });
  return made;
}

/** Compared by their hashes, so that the time it takes tells nothing of how much of a guess was right. */
const same = (a: string, b: string): boolean => timingSafeEqual(createHash('sha256').update(a).digest(), createHash('sha256').update(b).digest());

/** Serves a folder under /dav to whoever knows the name and password (RFC 7617). */
export function davStandIn({ folder, user, password }: DavAccount): RequestHandler {
  mkdirSync(folder, { recursive: true });
  const server = new webdav.WebDAVServer({ requireAuthentification: false });
  server.setFileSystemSync('/', new webdav.PhysicalFileSystem(folder), true);
  const serve = webdav.extensions.express('/dav', server) as unknown as RequestHandler;
  const wanted = `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}`;
  return (req, res, next) => {
    if (!/^\/dav(\/|$)/i.test(req.path)) return next();
    // Another site open in the same browser must not write here.
    const { origin } = req.headers;
    if (origin && origin !== `${req.protocol}://${req.headers.host}`) return void res.status(403).end();
    if (!same(req.headers.authorization ?? '', wanted)) return void res.status(401).setHeader('WWW-Authenticate', 'Basic realm="Scrivo backups", charset="UTF-8"').end();
    // It has been answered here; the package knows of no users.
    delete req.headers.authorization;
    return serve(req, res, next);
  };
}
