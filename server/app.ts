/** Serves the built application, and the demo notes where it was started with them. */
import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import compression from 'compression';
import expressStaticGzip from 'express-static-gzip';
import express, { type Express, type Response } from 'express';
import helmet from 'helmet';
import { davStandIn, type DavAccount } from './dav';
import { offlineScript } from './keepOffline';

export interface ServerOptions {
  /** Folder of the exported web application. */
  readonly dist: string;
  /** Folder of the demo bundles. */
  readonly demo: string;
  /** Bring the demo notes in by themselves on a first visit. */
  readonly withDemo: boolean;
  /** Folder, name and password of the WebDAV stand-in; none without it. */
  readonly dav?: DavAccount;
  /** Names, besides those of this machine itself, under which it may be asked. */
  readonly hosts?: readonly string[];
}

/** The names of this machine for itself (RFC 6761, section 6.3; RFC 1122, section 3.2.1.3; RFC 4291, section 2.5.3). */
const OWN_HOSTS = ['localhost', '127.0.0.1', '[::1]'];

/** Inline styles and scripts of the page are allowed by their hashes and nothing else inline is. */
function inlineHashes(html: string, tag: 'style' | 'script'): string[] {
  const found = html.matchAll(new RegExp(`<${tag}(?![^>]*\\bsrc=)[^>]*>([\\s\\S]*?)</${tag}>`, 'g'));
  return [...found].map((m) => `'sha256-${createHash('sha256').update(m[1]).digest('base64')}'`);
}

/**
 * The hash of nothing: the interface library makes an empty style element and fills it rule by rule through the object model,
 * which a policy does not restrict. A style element with any text in it stays blocked.
 */
const EMPTY_STYLE = `'sha256-${createHash('sha256').update('').digest('base64')}'`;

export function makeApp({ dist, demo, withDemo, dav, hosts = [] }: ServerOptions): Express {
  const index = readFileSync(path.join(dist, 'index.html'), 'utf8');
  const app = express();
  app.disable('x-powered-by');
  const names = new Set([...OWN_HOSTS, ...hosts]);
  app.use((req, res, next) => {
    // A foreign name that was made to lead here (DNS rebinding) would let its own page read and write as if it were this one.
    const host = (req.headers.host ?? '').replace(/:\d+$/, '').toLowerCase();
    if (!names.has(host)) return void res.status(403).type('text').send('Scrivo does not answer under this name. Start it with SCRIVO_HOSTS naming it, if it should.');
    next();
  });
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'", ...inlineHashes(index, 'script')],
          styleSrc: ["'self'", EMPTY_STYLE, ...inlineHashes(index, 'style')],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'"],
          mediaSrc: ["'self'", 'blob:'],
          // Backups go to the server the user names.
          connectSrc: ["'self'", 'https:'],
          workerSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      // Both together make the page cross-origin isolated.
      crossOriginOpenerPolicy: { policy: 'same-origin' },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      strictTransportSecurity: false,
    }),
  );
  app.use((_, res, next) => {
    res.setHeader('Permissions-Policy', 'microphone=(self), display-capture=(self), screen-wake-lock=(self), camera=(), geolocation=()');
    next();
  });
  if (dav) app.use(davStandIn(dav));
  app.use(compression());

  app.get('/health', (_, res) => {
    res.setHeader('Cache-Control', 'no-store');
    res.json({ ok: true });
  });
  app.get('/demo/notes.json', (_, res) => {
    const list = path.join(demo, 'notes.json');
    res.setHeader('Cache-Control', 'no-store');
    if (!existsSync(list)) return void res.status(404).json({ error: 'There are no demo notes here.' });
    res.json({ auto: withDemo, notes: JSON.parse(readFileSync(list, 'utf8')) });
  });
  app.use('/demo', express.static(demo, { index: false, maxAge: 0 }), (_, res) => void res.status(404).json({ error: 'There is no such file.' }));

  const page = (res: Response) => {
    res.setHeader('Cache-Control', 'no-store');
    res.type('html').send(index);
  };
  const offline = offlineScript(dist);
  app.get('/offline.js', (_, res) => {
    res.setHeader('Cache-Control', 'no-cache');
    res.type('js').send(offline);
  });
  app.get(['/', '/index.html'], (_, res) => page(res));
  app.use(
    // Files that were packed when the application was built.
    expressStaticGzip(dist, {
      index: false,
      enableBrotli: true,
      orderPreference: ['br'],
      serveStatic: {
        setHeaders: (res, file) => {
          // Names with a content hash never change their content; all others are asked for anew.
          const hashed = /[-.][0-9a-f]{16,}\./.test(path.basename(file));
          res.setHeader('Cache-Control', hashed ? 'public, max-age=31536000, immutable' : 'no-cache');
        },
      },
    }),
  );
  app.use((req, res, next) => {
    if (req.method !== 'GET' && req.method !== 'HEAD') return next();
    // A missing file is missing; an unknown path is the application's to answer.
    if (/\.[a-z0-9]{1,8}$/i.test(req.path)) return void res.status(404).type('text').send('There is no such file.');
    page(res);
  });
  return app;
}
