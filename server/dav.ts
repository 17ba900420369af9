/** A WebDAV server of its own for backups (RFC 4918): it stands in for the one a user has elsewhere. */
import { mkdirSync } from 'node:fs';
import type { RequestHandler } from 'express';
import { v2 as webdav } from 'webdav-server';

/** Serves a folder under /dav; whoever reaches this server may write there. */
export function davStandIn(folder: string): RequestHandler {
  mkdirSync(folder, { recursive: true });
  const server = new webdav.WebDAVServer({ requireAuthentification: false });
  server.setFileSystemSync('/', new webdav.PhysicalFileSystem(folder), true);
  const serve = webdav.extensions.express('/dav', server) as unknown as RequestHandler;
  return (req, res, next) => {
    // Another site open in the same browser must not write here.
    const { origin } = req.headers;
    if (req.path.startsWith('/dav') && origin && origin !== `${req.protocol}://${req.headers.host}`) return void res.status(403).end();
    return serve(req, res, next);
  };
}
