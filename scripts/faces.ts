/**
 * The faces that typed text is set in, from their packages: their files under `public/fonts`, and how wide their letters are, with which the core lays
 * text out, in `src/core/text/advances.ts`. `npm run faces`, after a package of theirs was changed.
 */
import { copyFileSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { createRequire } from 'node:module';

const ROOT = path.resolve(__dirname, '..');
/** It brings no types. */
const { parse } = createRequire(__filename)('opentype.js') as { parse(bytes: ArrayBuffer): { unitsPerEm: number; glyphs: { length: number; get(i: number): { unicodes?: number[]; advanceWidth?: number } } } };
const FACES = [
  { face: 'sans', family: 'Atkinson Hyperlegible', of: 'atkinson-hyperlegible', cuts: ['400 normal', '700 normal', '400 italic', '700 italic'], more: [] },
  { face: 'serif', family: 'Literata', of: 'literata', cuts: ['400 normal', '700 normal', '400 italic', '700 italic'], more: ['600 normal'] },
  { face: 'typewriter', family: 'Courier Prime', of: 'courier-prime', cuts: ['400 normal', '700 normal', '400 italic', '700 italic'], more: [] },
  { face: 'hand', family: 'Patrick Hand', of: 'patrick-hand', cuts: ['400 normal'], more: [] },
];
/** The later stands before the earlier in the style sheet, and the first that has a letter sets it. */
const SUBSETS = ['latin', 'latin-ext'];

const rules: string[] = [];
const tables: string[] = [];
for (const { face, family, of, cuts, more } of FACES) {
  const folder = path.join(ROOT, 'node_modules/@fontsource', of);
  const ranges = JSON.parse(readFileSync(path.join(folder, 'unicode.json'), 'utf8')) as Record<string, string>;
  copyFileSync(path.join(folder, 'LICENSE'), path.join(ROOT, 'public/fonts', `${of}-LICENSE.txt`));
  for (const cut of [...cuts, ...more]) {
    const [weight, slant] = cut.split(' ');
    const advances = new Map<number, number>();
    let em = 1000;
    for (const subset of [...SUBSETS].reverse()) {
      const name = `${of}-${subset}-${weight}-${slant}`;
      copyFileSync(path.join(folder, 'files', `${name}.woff2`), path.join(ROOT, 'public/fonts', `${name}.woff2`));
      rules.push(`@font-face { font-family: '${family}'; font-weight: ${weight}; ${slant === 'italic' ? 'font-style: italic; ' : ''}font-display: swap; src: url('/fonts/${name}.woff2') format('woff2'); unicode-range: ${ranges[subset].replaceAll(',', ', ')}; }`);
      if (more.includes(cut as never)) continue;
      // What a PDF is written with.
      copyFileSync(path.join(folder, 'files', `${name}.woff`), path.join(ROOT, 'public/fonts', `${name}.woff`));
      const bytes = readFileSync(path.join(folder, 'files', `${name}.woff`));
      const font = parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
      em = font.unitsPerEm;
      const inRange = ranges[subset].split(',').map((r) => r.trim().slice(2).split('-').map((h) => Number.parseInt(h, 16)));
      for (let i = 0; i < font.glyphs.length; i++) {
        const glyph = font.glyphs.get(i);
        for (const code of glyph.unicodes ?? []) if (inRange.some(([a, b = a]) => code >= a && code <= b)) advances.set(code, glyph.advanceWidth ?? 0);
      }
    }
    if (more.includes(cut as never)) continue;
    // Runs of letters that follow each other: the first, and how wide it and the next are.
    const runs: number[][] = [];
    for (const code of [...advances.keys()].sort((a, b) => a - b)) {
      const last = runs.at(-1);
      if (last && code === last[0] + last.length - 1) last.push(advances.get(code)!);
      else runs.push([code, advances.get(code)!]);
    }
    tables.push(`  '${face} ${cut}': { em: ${em}, runs: ${JSON.stringify(runs)} },`);
  }
}
writeFileSync(path.join(ROOT, 'public/fonts/fonts.css'), `/* The faces that ship with the application; written by scripts/faces.ts. */\n${rules.join('\n')}\n`);
writeFileSync(
  path.join(ROOT, 'src/core/text/advances.ts'),
  `/** How wide letters are, in units of which \`em\` are the size of the face; written by scripts/faces.ts from the faces themselves. A run: the first letter, then the widths of it and of those after it. */\nexport const ADVANCES: Readonly<Record<string, { readonly em: number; readonly runs: readonly (readonly number[])[] }>> = {\n${tables.join('\n')}\n};\n`,
);
