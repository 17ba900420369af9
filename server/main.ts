/** Starts the server: `PORT` (4310), `SCRIVO_DEMO=1` to bring the demo notes in, `SCRIVO_DAV` the folder of the WebDAV stand-in (with the demo `.cache/dav`), `SCRIVO_DAV_PASSWORD` its password (else one is made and kept), `SCRIVO_HOSTS` names besides localhost, with commas. */
import path from 'node:path';
import { makeApp } from './app';
import { DAV_USER, keptPassword } from './dav';

const root = path.resolve(__dirname, '..');
const port = Number(process.env.PORT ?? 4310);
const withDemo = process.env.SCRIVO_DEMO === '1';
const folder = process.env.SCRIVO_DAV || (withDemo ? path.join(root, '.cache', 'dav') : undefined);
const dav = folder ? { folder, user: DAV_USER, password: process.env.SCRIVO_DAV_PASSWORD || keptPassword(path.join(root, '.cache', 'dav-password')) } : undefined;
const app = makeApp({ dist: path.join(root, 'dist'), demo: path.join(root, 'demo', 'notes'), withDemo, dav, hosts: String(process.env.SCRIVO_HOSTS ?? '').split(',').map((h) => h.trim().toLowerCase()).filter(Boolean) });

const server = app.listen(port, '127.0.0.1', (error?: Error) => {
  if (error) {
    const taken = (error as NodeJS.ErrnoException).code === 'EADDRINUSE';
    console.error(taken ? `Port ${port} is in use. Stop what runs there, or choose another: PORT=4311 npm start` : error.message);
    process.exit(1);
  }
  console.log(`Scrivo is at http://127.0.0.1:${port}`);
  if (withDemo) {
    console.log('Try first: open “Tides and the rule of twelfths”, and in Listen touch any written word: it plays what was said then.');
    console.log('Then press Record on Today, write a few words while you speak, stop, and touch them.');
  } else console.log('Try first: press Record, write a few words while you speak, stop, and touch them in Listen.');
  if (dav) console.log(`A WebDAV server for backups is at http://127.0.0.1:${port}/dav (Settings, Backup): user ${dav.user}, password ${dav.password}`);
  console.log('Stop with Ctrl+C.');
});

for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
}
