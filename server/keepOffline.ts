/** The script that keeps the application at hand without a network: its text, with the files of this build in it. */
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';

/** Served without being asked for by the application. */
const NOT_KEPT = new Set(['/metadata.json', '/index.html', '/offline.js']);

function filesOf(folder: string, under = ''): string[] {
  return readdirSync(folder)
    .sort()
    .flatMap((name) => {
      const file = path.join(folder, name);
      return statSync(file).isDirectory() ? filesOf(file, `${under}/${name}`) : [`${under}/${name}`];
    });
}

export function offlineScript(dist: string): string {
  const all = filesOf(dist).filter((f) => !NOT_KEPT.has(f) && !/\.(map|br)$/.test(f));
  const later = all.filter((f) => f.startsWith('/speech/') || f.startsWith('/pdf/'));
  const files = ['/', ...all.filter((f) => !later.includes(f))];
  const hash = createHash('sha256').update(readFileSync(path.join(dist, 'index.html')));
  // By what is in them: a file that changed may have the size it had.
  for (const f of all) hash.update(f).update(readFileSync(path.join(dist, f)));
  const text = readFileSync(path.join(__dirname, 'offlineWorker.js'), 'utf8');
  return `const VERSION = ${JSON.stringify(hash.digest('hex').slice(0, 16))};\nconst FILES = ${JSON.stringify(files)};\nconst LATER = ${JSON.stringify(later)};\n${text}`;
}
