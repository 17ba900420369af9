// Brings the faces of fonts.json from the npm registry: one file of each package and its licence. `node fetch.mjs FOLDER`
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync, copyFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const here = path.dirname(fileURLToPath(import.meta.url));
const folder = path.resolve(process.argv[2] ?? path.join(here, '.cache/fonts'));
const { trained, outlined, held } = JSON.parse(readFileSync(path.join(here, 'fonts.json'), 'utf8'));
mkdirSync(folder, { recursive: true });
const licences = {};
for (const name of [...trained, ...outlined, ...held]) {
  const to = path.join(folder, `${name}.woff`);
  const about = path.join(folder, `${name}.json`);
  if (!existsSync(to) || !existsSync(about)) {
    const unpacked = path.join(folder, `.${name}`);
    mkdirSync(unpacked, { recursive: true });
    try {
      const [{ filename }] = JSON.parse(execFileSync('npm', ['pack', `@fontsource/${name}@5`, '--json', '--silent', '--pack-destination', unpacked], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] })).slice(-1);
      execFileSync('tar', ['xzf', path.join(unpacked, path.basename(filename.replace('@', '').replace('/', '-'))), '-C', unpacked]);
      const { version, license } = JSON.parse(readFileSync(path.join(unpacked, 'package/package.json'), 'utf8'));
      copyFileSync(path.join(unpacked, `package/files/${name}-latin-400-normal.woff`), to);
      writeFileSync(about, JSON.stringify({ version, license }));
    } catch (e) {
      console.error(`${name}: not to be had (${e.message.split('\n')[0]})`);
    }
    rmSync(unpacked, { recursive: true, force: true });
  }
  if (existsSync(about)) licences[name] = JSON.parse(readFileSync(about, 'utf8'));
}
writeFileSync(path.join(folder, 'licences.json'), JSON.stringify(licences, null, 1));
console.log(`${Object.keys(licences).length} faces in ${folder}`);
