/**
 * Bugs of one line put into the code at random, one at a time, to see whether a unit test notices: `npm run mutate -- core/time core/note --count 20 --seed 7`.
 * Of each folder so many places are tried, in copies of the tree; a place is judged by the tests that pass through it, nearest first, found by one run of all unit tests that notes
 * what each of them passes. Ends with a table by folder and a list of what lived. What cannot be noticed since it changes nothing is named in `scripts/equivalent.json` and left out.
 * (Stryker does this for every place of a file, at 4 s each: for one file that is the better tool, for a tree of 50,000 lines it takes days.)
 */
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, symlinkSync, unlinkSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import ts from 'typescript';

const ROOT = path.resolve(__dirname, '..');
const FOLDERS = ['core/ink', 'core/note', 'core/time', 'core/formats', 'core/reading', 'core/text', 'core/library', 'core/audio', 'core/bring', 'core/vault', 'storage', 'store'];
/** Tests that take so much longer than without the bug have noticed something: times, and ms of a start. */
const [PATIENCE, START_MS] = [6, 30_000];

const args = process.argv.slice(2);
const option = (name: string, otherwise: number): number => (args.includes(name) ? Number(args[args.indexOf(name) + 1]) : otherwise);
const [COUNT, SEED, AT_ONCE] = [option('--count', 10), option('--seed', Date.now() % 1e6), option('--at-once', 2)];
const named = args.filter((a, i) => !a.startsWith('--') && !args[i - 1]?.startsWith('--'));
const folders = named.length ? named : FOLDERS;

let state = SEED;
const random = (): number => (state = (state * 48_271 + 11) % 2_147_483_647) / 2_147_483_647;

interface Mutant {
  readonly file: string;
  readonly line: number;
  readonly from: number;
  readonly to: number;
  readonly text: string;
  /** What stands in the line, what of it goes, and what comes: told apart from all others of the file but for its like in an equal line. */
  readonly name: string;
}

const SWAPS: Partial<Record<ts.SyntaxKind, string>> = {
  [ts.SyntaxKind.LessThanToken]: '<=', [ts.SyntaxKind.LessThanEqualsToken]: '<', [ts.SyntaxKind.GreaterThanToken]: '>=', [ts.SyntaxKind.GreaterThanEqualsToken]: '>',
  [ts.SyntaxKind.EqualsEqualsEqualsToken]: '!==', [ts.SyntaxKind.ExclamationEqualsEqualsToken]: '===', [ts.SyntaxKind.PlusToken]: '-', [ts.SyntaxKind.MinusToken]: '+',
  [ts.SyntaxKind.AsteriskToken]: '/', [ts.SyntaxKind.SlashToken]: '*', [ts.SyntaxKind.AmpersandAmpersandToken]: '||', [ts.SyntaxKind.BarBarToken]: '&&',
};
const NAMES: ReadonlyMap<string, string> = new Map([['max', 'min'], ['min', 'max'], ['some', 'every'], ['every', 'some'], ['ceil', 'floor'], ['floor', 'ceil'], ['findLast', 'find'], ['push', 'unshift']]);
/** A number that is wrong: one more, and where one more in many is no bug (a limit, a size, a wait), twice as much. */
const wrong = (n: number): number => (n >= 10 ? 2 * n : n + 1);
const short = (text: string): string => text.replace(/\s+/g, ' ').trim().slice(0, 70);

/** Every place of a file at which something can be wrong, with what stands there then. */
function mutantsOf(file: string): Mutant[] {
  const whole = readFileSync(file, 'utf8');
  const source = ts.createSourceFile(file, whole, ts.ScriptTarget.Latest, true);
  const lines = whole.split('\n');
  const out: Mutant[] = [];
  const put = (node: ts.Node, text: string) => {
    const [from, to] = [node.getStart(source), node.getEnd()];
    const line = source.getLineAndCharacterOfPosition(from).line;
    const name = `${path.relative(path.join(ROOT, 'src'), file)} | ${short(lines[line])} | ${short(whole.slice(from, to))} -> ${short(text)}`;
    out.push({ file, line: line + 1, from, to, text, name });
  };
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isTypeNode(node) || ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)) return;
    if (ts.isBinaryExpression(node) && SWAPS[node.operatorToken.kind]) put(node.operatorToken, SWAPS[node.operatorToken.kind]!);
    else if (ts.isNumericLiteral(node)) put(node, String(wrong(Number(node.text.replaceAll('_', '')))));
    else if (node.kind === ts.SyntaxKind.TrueKeyword) put(node, 'false');
    else if (node.kind === ts.SyntaxKind.FalseKeyword) put(node, 'true');
    else if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken) put(node, node.operand.getText(source));
    else if (ts.isConditionalExpression(node)) put(node, `(${node.condition.getText(source)} ? ${node.whenFalse.getText(source)} : ${node.whenTrue.getText(source)})`);
    else if (ts.isExpressionStatement(node) && (ts.isCallExpression(node.expression) || ts.isAwaitExpression(node.expression))) put(node, ';');
    else if (ts.isPropertyAccessExpression(node) && NAMES.has(node.name.text) && ts.isCallExpression(node.parent)) put(node.name, NAMES.get(node.name.text)!);
    ts.forEachChild(node, visit);
  };
  visit(source);
  return out;
}

const files = (folder: string): string[] => readdirSync(folder).sort().flatMap((name) => {
  const p = path.join(folder, name);
  return statSync(p).isDirectory() ? files(p) : [p];
});
const isCode = (f: string): boolean => /\.ts$/.test(f) && !/\.(test|d|worker)\.ts$/.test(f);

/** The tree once more, in which one file at a time is another. */
function copyOfTree(): string {
  const copy = mkdtempSync(path.join(os.tmpdir(), 'scrivo-mutants-'));
  for (const name of readdirSync(ROOT)) {
    if (['node_modules', 'dist', '.git', '.cache', 'test-results'].includes(name)) continue;
    if (['src', 'server', 'tests', 'tsconfig.json', 'package.json', 'jest.config.js', 'babel.config.js'].includes(name)) cpSync(path.join(ROOT, name), path.join(copy, name), { recursive: true });
    else symlinkSync(path.join(ROOT, name), path.join(copy, name));
  }
  symlinkSync(path.join(ROOT, 'node_modules'), path.join(copy, 'node_modules'));
  return copy;
}

/** Of each test file: how long it takes, ms, and the statements that it passes, as `[line, column, line, column]` by file. */
type Passed = Readonly<Record<string, { readonly ms: number; readonly files: Readonly<Record<string, readonly (readonly [number, number, number, number])[]>> }>>;

/** One run of all unit tests that notes what each passes; kept until a file of `src` or `tests/helpers` changes. */
function passedBy(copy: string): Passed {
  const hash = createHash('sha256');
  for (const f of [...files(path.join(ROOT, 'src')), ...files(path.join(ROOT, 'tests/helpers'))]) hash.update(f).update(readFileSync(f));
  const kept = path.join(ROOT, '.cache', 'passed-by-tests.json');
  const wanted = hash.digest('hex');
  if (existsSync(kept)) {
    const had = JSON.parse(readFileSync(kept, 'utf8')) as { readonly of: string; readonly passed: Passed };
    if (had.of === wanted) return had.passed;
  }
  console.log('What each unit test passes through is found by one run of all …');
  const out = path.join(copy, 'passed');
  mkdirSync(out, { recursive: true });
  writeFileSync(path.join(copy, 'noting.js'), `
    const began = Date.now();
    afterAll(() => {
      const files = {};
      for (const [file, c] of Object.entries(globalThis.__coverage__ ?? {})) files[file.slice(${copy.length + 1})] = Object.keys(c.s).filter((k) => c.s[k] > 0).map((k) => { const { start, end } = c.statementMap[k]; return [start.line, start.column, end.line, end.column]; });
      const test = expect.getState().testPath.slice(${copy.length + 1});
      require('node:fs').writeFileSync(require('node:path').join(${JSON.stringify(out)}, test.replace(/\\W/g, '_') + '.json'), JSON.stringify({ test, ms: Date.now() - began, files }));
    });`);
  writeFileSync(path.join(copy, 'noting.config.js'), `const { projects: [core] } = require('./jest.config.js'); module.exports = { ...core, setupFilesAfterEnv: ['<rootDir>/noting.js'], testTimeout: 600000 };`);
  spawnSync('npx', ['jest', '-c', 'noting.config.js', '--coverage', '--coverageProvider=babel', '--coverageReporters=none', '--silent', '--testTimeout=600000', '--maxWorkers=2'], { cwd: copy, stdio: 'ignore' });
  const passed: Record<string, Passed[string]> = {};
  for (const f of files(out)) {
    const it = JSON.parse(readFileSync(f, 'utf8')) as { test: string } & Passed[string];
    passed[it.test] = { ms: it.ms, files: it.files };
  }
  if (!Object.keys(passed).length) throw new Error('No unit test said what it passes through. Run the unit tests first: npm run unit');
  mkdirSync(path.dirname(kept), { recursive: true });
  writeFileSync(kept, JSON.stringify({ of: wanted, passed }));
  return passed;
}

const equivalent = new Set(Object.keys(JSON.parse(readFileSync(path.join(ROOT, 'scripts/equivalent.json'), 'utf8')) as Record<string, string>));
const copies = Array.from({ length: AT_ONCE }, copyOfTree);
const passed = passedBy(copies[0]);
const importsOf = new Map(Object.keys(passed).map((t) => [t, [...readFileSync(path.join(ROOT, t), 'utf8').matchAll(/from '(\.[^']+)'/g)].map((m) => `${path.join(path.dirname(t), m[1])}.ts`)]));

/** The tests that pass through the place, in two rounds: those that stand by the file or import it, and the others, the quick first. */
function testsOf(it: Mutant): string[][] {
  const file = path.relative(ROOT, it.file);
  const source = readFileSync(it.file, 'utf8');
  const column = it.from - (source.lastIndexOf('\n', it.from - 1) + 1);
  const within = ([l1, c1, l2, c2]: readonly [number, number, number, number]) => (it.line > l1 || (it.line === l1 && column >= c1)) && (it.line < l2 || (it.line === l2 && column < c2));
  const smaller = (a: readonly [number, number, number, number], b: readonly [number, number, number, number]) => a[2] - a[0] - (b[2] - b[0]) || a[3] - a[1] - (b[3] - b[1]);
  // The smallest statement that any test passes tells; one that stands in a part that was not passed is judged by what was passed around it.
  const those = Object.entries(passed).flatMap(([test, { ms, files: of }]) => {
    const around = (of[file] ?? []).filter(within).sort(smaller)[0];
    return around ? [{ test, ms, around }] : [];
  });
  if (!those.length) return [];
  const least = those.map((t) => t.around).sort(smaller)[0];
  const passing = those.filter((t) => smaller(t.around, least) === 0).sort((a, b) => a.ms - b.ms).map((t) => t.test);
  const near = (t: string) => path.dirname(t) === path.dirname(file) || importsOf.get(t)!.includes(file);
  return [passing.filter(near), passing.filter((t) => !near(t))].filter((round) => round.length);
}

const ended = (copy: string, tests: readonly string[]): Promise<number> => {
  const limit = START_MS + PATIENCE * tests.reduce((sum, t) => sum + passed[t].ms, 0);
  // What does not even start has told nothing.
  const child = spawn('npx', ['jest', '--selectProjects', 'core', '--bail', '--silent', '-i', '--runTestsByPath', ...tests], { cwd: copy, stdio: 'ignore', detached: true });
  return new Promise((resolve, reject) => {
    const timer = setTimeout(() => process.kill(-child.pid!, 'SIGKILL'), limit);
    child.on('error', (e) => {
      clearTimeout(timer);
      reject(e);
    });
    child.on('exit', (code) => {
      clearTimeout(timer);
      resolve(code ?? 1);
    });
  });
};

type Verdict = 'noticed' | 'lived' | 'no test';
async function judge(it: Mutant, copy: string): Promise<Verdict> {
  const rounds = testsOf(it);
  if (!rounds.length) return 'no test';
  const source = readFileSync(it.file, 'utf8');
  const there = path.join(copy, path.relative(ROOT, it.file));
  unlinkSync(there);
  writeFileSync(there, source.slice(0, it.from) + it.text + source.slice(it.to));
  try {
    for (const round of rounds) if ((await ended(copy, round)) !== 0) return 'noticed';
    return 'lived';
  } finally {
    writeFileSync(there, source);
  }
}

async function main(): Promise<void> {
  const work: { readonly folder: string; readonly it: Mutant }[] = [];
  let left = 0;
  for (const folder of folders) {
    const at = path.join(ROOT, 'src', folder);
    const all = (statSync(at, { throwIfNoEntry: false })?.isDirectory() ? files(at) : [`${at}.ts`]).filter(isCode).flatMap(mutantsOf);
    const real = all.filter((m) => !equivalent.has(m.name));
    left += all.length - real.length;
    for (let k = 0; k < COUNT && real.length; k++) work.push({ folder, it: real.splice(Math.floor(random() * real.length), 1)[0] });
  }
  const said: { readonly folder: string; readonly verdict: Verdict; readonly name: string }[] = [];
  const queue = [...work];
  await Promise.all(copies.map(async (copy) => {
    // Without a bug the same tests pass in this copy: otherwise every bug would seem noticed.
    const sound = work.map(({ it }) => testsOf(it)[0]).find((round) => round !== undefined);
    if (sound && (await ended(copy, sound)) !== 0) throw new Error(`In a copy of the tree these tests fail without any bug: ${sound.join(', ')}. Run npm run unit.`);
    for (let next = queue.shift(); next; next = queue.shift()) {
      const verdict = await judge(next.it, copy);
      said.push({ folder: next.folder, verdict, name: `${next.it.line}: ${next.it.name}` });
      console.log(`${verdict.padEnd(8)} ${next.it.line}: ${next.it.name}`);
    }
  }));
  console.log(`\nseed ${SEED}; ${left} places left out that change nothing\n| folder | tried | noticed | lived | no test passes | score |\n| --- | --- | --- | --- | --- | --- |`);
  for (const folder of folders) {
    const of = (v: Verdict) => said.filter((s) => s.folder === folder && s.verdict === v).length;
    const [noticed, lived, none] = [of('noticed'), of('lived'), of('no test')];
    const judged = noticed + lived + none;
    console.log(`| ${folder} | ${judged} | ${noticed} | ${lived} | ${none} | ${judged ? Math.round((100 * noticed) / judged) : 0} % |`);
  }
  console.log(`\n${said.filter((s) => s.verdict !== 'noticed').map((s) => `${s.verdict.padEnd(8)} ${s.name}`).sort().join('\n')}`);
}

main().finally(() => copies.forEach((copy) => rmSync(copy, { recursive: true, force: true })));
