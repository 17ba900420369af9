/**
 * Bugs of one line put into the code at random, one at a time, to see whether a test notices: `npm run mutate -- core/time core/note --count 20 --seed 7`.
 * Of each folder so many places are tried, in a copy of the tree; the tests of a file are those that import it and those that stand in its folder. Ends with a table by
 * folder and a list of what lived. (Stryker does this for every place of a file, at 4 s each: for one file that is the better tool, for a tree of 30,000 lines it takes days.)
 */
import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, symlinkSync, unlinkSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import ts from 'typescript';

const ROOT = path.resolve(__dirname, '..');
const FOLDERS = ['core/ink', 'core/note', 'core/time', 'core/formats', 'core/reading', 'core/text', 'core/library', 'core/audio', 'core/bring', 'core/vault', 'storage', 'store'];
/** Tests that are not done by then have noticed something, ms. */
const LIMIT_MS = 180_000;

const args = process.argv.slice(2);
const option = (name: string, otherwise: number): number => (args.includes(name) ? Number(args[args.indexOf(name) + 1]) : otherwise);
const [COUNT, SEED] = [option('--count', 10), option('--seed', Date.now() % 1e6)];
const named = args.filter((a, i) => !a.startsWith('--') && !args[i - 1]?.startsWith('--'));
const folders = named.length ? named : FOLDERS;

let state = SEED;
const random = (): number => (state = (state * 48_271 + 11) % 2_147_483_647) / 2_147_483_647;

interface Mutant {
  readonly file: string;
  readonly from: number;
  readonly to: number;
  readonly text: string;
}

const SWAPS: Partial<Record<ts.SyntaxKind, string>> = {
  [ts.SyntaxKind.LessThanToken]: '<=', [ts.SyntaxKind.LessThanEqualsToken]: '<', [ts.SyntaxKind.GreaterThanToken]: '>=', [ts.SyntaxKind.GreaterThanEqualsToken]: '>',
  [ts.SyntaxKind.EqualsEqualsEqualsToken]: '!==', [ts.SyntaxKind.ExclamationEqualsEqualsToken]: '===', [ts.SyntaxKind.PlusToken]: '-', [ts.SyntaxKind.MinusToken]: '+',
  [ts.SyntaxKind.AsteriskToken]: '/', [ts.SyntaxKind.SlashToken]: '*', [ts.SyntaxKind.AmpersandAmpersandToken]: '||', [ts.SyntaxKind.BarBarToken]: '&&',
};
const NAMES: Readonly<Record<string, string>> = { max: 'min', min: 'max', some: 'every', every: 'some', ceil: 'floor', floor: 'ceil', findLast: 'find', push: 'unshift' };

/** Every place of a file at which something can be wrong, with what stands there then. */
function mutantsOf(file: string): Mutant[] {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true);
  const out: Mutant[] = [];
  const put = (node: ts.Node, text: string) => out.push({ file, from: node.getStart(source), to: node.getEnd(), text });
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isTypeNode(node) || ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)) return;
    if (ts.isBinaryExpression(node) && SWAPS[node.operatorToken.kind]) put(node.operatorToken, SWAPS[node.operatorToken.kind]!);
    else if (ts.isNumericLiteral(node)) put(node, String(Number(node.text.replaceAll('_', '')) + 1));
    else if (node.kind === ts.SyntaxKind.TrueKeyword) put(node, 'false');
    else if (node.kind === ts.SyntaxKind.FalseKeyword) put(node, 'true');
    else if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken) put(node, node.operand.getText(source));
    else if (ts.isConditionalExpression(node)) put(node, `(${node.condition.getText(source)} ? ${node.whenFalse.getText(source)} : ${node.whenTrue.getText(source)})`);
    else if (ts.isExpressionStatement(node) && (ts.isCallExpression(node.expression) || ts.isAwaitExpression(node.expression))) put(node, ';');
    else if (ts.isPropertyAccessExpression(node) && NAMES[node.name.text] && ts.isCallExpression(node.parent)) put(node.name, NAMES[node.name.text]);
    ts.forEachChild(node, visit);
  };
  visit(source);
  return out;
}

const files = (folder: string): string[] => readdirSync(folder).flatMap((name) => {
  const p = path.join(folder, name);
  return statSync(p).isDirectory() ? files(p) : [p];
});
const isCode = (f: string): boolean => /\.ts$/.test(f) && !/\.(test|d|worker)\.ts$/.test(f);
const tests = files(path.join(ROOT, 'src')).filter((f) => /\.test\.ts$/.test(f));
const importsOf = new Map(tests.map((t) => [t, [...readFileSync(t, 'utf8').matchAll(/from '(\.[^']+)'/g)].map((m) => path.resolve(path.dirname(t), m[1]))]));
/** The nearest first. */
const testsOf = (file: string): string[] => {
  const bare = file.replace(/\.ts$/, '');
  const direct = tests.filter((t) => importsOf.get(t)!.includes(bare));
  const beside = tests.filter((t) => path.dirname(t) === path.dirname(file));
  return [...new Set([...direct.filter((t) => beside.includes(t)), ...direct, ...beside])];
};

/** The tree once more, in which one file at a time is another. */
const copy = mkdtempSync(path.join(os.tmpdir(), 'scrivo-mutants-'));
for (const name of readdirSync(ROOT)) {
  if (['node_modules', 'dist', '.git', '.cache', 'test-results'].includes(name)) continue;
  if (['src', 'tests', 'tsconfig.json', 'package.json', 'jest.config.js', 'babel.config.js'].includes(name)) cpSync(path.join(ROOT, name), path.join(copy, name), { recursive: true });
  else symlinkSync(path.join(ROOT, name), path.join(copy, name));
}
symlinkSync(path.join(ROOT, 'node_modules'), path.join(copy, 'node_modules'));

const lived: string[] = [];
const rows: string[] = [];
for (const folder of folders) {
  const all = files(path.join(ROOT, 'src', folder)).filter(isCode).flatMap(mutantsOf);
  const score = { killed: 0, lived: 0, none: 0 };
  for (let k = 0; k < COUNT && all.length; k++) {
    const [it] = all.splice(Math.floor(random() * all.length), 1);
    const source = readFileSync(it.file, 'utf8');
    const relative = path.relative(ROOT, it.file);
    const line = source.slice(0, it.from).split('\n').length;
    const name = `${relative}:${line}  ${source.slice(it.from, it.to).replace(/\s+/g, ' ').slice(0, 60)}  ->  ${it.text.replace(/\s+/g, ' ').slice(0, 60)}`;
    const mine = testsOf(it.file);
    if (!mine.length) {
      score.none++;
      lived.push(`no test      ${name}`);
      continue;
    }
    const there = path.join(copy, relative);
    unlinkSync(there);
    writeFileSync(there, source.slice(0, it.from) + it.text + source.slice(it.to));
    const done = spawnSync('npx', ['jest', '--selectProjects', 'core', '--bail', '--silent', '--testTimeout=60000', ...mine.map((t) => path.relative(ROOT, t))], { cwd: copy, timeout: LIMIT_MS, stdio: 'ignore' });
    writeFileSync(there, source);
    if (done.status === 0) {
      score.lived++;
      lived.push(`lived        ${name}`);
    } else score.killed++;
    console.log(`${done.status === 0 ? 'LIVED ' : 'killed'} ${name}`);
  }
  const judged = score.killed + score.lived + score.none;
  rows.push(`| ${folder} | ${judged} | ${score.killed} | ${score.lived} | ${score.none} | ${judged ? Math.round((100 * score.killed) / judged) : 0} % |`);
}
if (existsSync(copy)) rmSync(copy, { recursive: true, force: true });
console.log(`\nseed ${SEED}\n| folder | tried | noticed | lived | without a test | score |\n| --- | --- | --- | --- | --- | --- |\n${rows.join('\n')}`);
if (lived.length) console.log(`\n${lived.join('\n')}`);
