#!/usr/bin/env node
// Circles of imports, those of types too: `npm run lint` fails on the first file that reaches itself.
import { readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';

const ROOTS = ['app', 'src', 'server', 'demo', 'tests', 'scripts'];

const filesIn = (p) => (statSync(p).isDirectory() ? readdirSync(p).flatMap((n) => filesIn(path.join(p, n))) : /\.(tsx?|mjs)$/.test(p) ? [p] : []);
const files = new Set(ROOTS.flatMap(filesIn));

function importsOf(file) {
  const { importedFiles } = ts.preProcessFile(readFileSync(file, 'utf8'), true, true);
  return importedFiles.flatMap(({ fileName }) => {
    if (!fileName.startsWith('.')) return [];
    const base = path.join(path.dirname(file), fileName);
    return [base, `${base}.ts`, `${base}.tsx`, path.join(base, 'index.ts')].filter((f) => files.has(f)).slice(0, 1);
  });
}

const graph = new Map([...files].map((f) => [f, importsOf(f)]));
const done = new Set();
const circles = [];
function walk(file, way) {
  const at = way.indexOf(file);
  if (at >= 0) return void circles.push([...way.slice(at), file]);
  if (done.has(file)) return;
  for (const next of graph.get(file)) walk(next, [...way, file]);
  done.add(file);
}
for (const f of files) walk(f, []);
for (const c of circles) console.error(`A circle of imports: ${c.join(' -> ')}`);
if (circles.length) process.exit(1);
console.log(`No circles among ${files.size} files.`);
