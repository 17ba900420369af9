#!/usr/bin/env node
// The commands of package.json. Runs with nothing installed: it installs what is missing, builds when something changed, then works.
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { compressBuild } from './compress.mjs';
import { layFilesOfPackages } from './lay.mjs';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
process.chdir(root);
const CACHE = path.join(root, '.cache');

function fail(sentence) {
  console.error(sentence);
  process.exit(1);
}

function run(command, args, options = {}) {
  const done = spawnSync(command, args, { stdio: 'inherit', ...options, env: { ...process.env, ...options.env } });
  if (done.error) fail(`${command} could not be started: ${done.error.message}`);
  return done.status ?? 1;
}

/** @param began is told the number of the process. */
const own = (command, args, env, began = () => undefined) => {
  const child = spawn(command, args, { stdio: 'inherit', env: { ...process.env, ...env } });
  began(child.pid);
  return new Promise((resolve) => {
    child.on('error', () => resolve(1));
    child.on('exit', (code) => resolve(code ?? 1));
  });
};

const stamp = (name) => path.join(CACHE, name);
const current = (name, value) => existsSync(stamp(name)) && readFileSync(stamp(name), 'utf8') === value;
function remember(name, value) {
  mkdirSync(CACHE, { recursive: true });
  writeFileSync(stamp(name), value);
}

function hashOf(entries) {
  const hash = createHash('sha256');
  const walk = (p) => {
    if (!existsSync(p)) return;
    if (statSync(p).isDirectory()) {
      for (const name of readdirSync(p).sort()) walk(path.join(p, name));
      return;
    }
    if (/\.test\.tsx?$/.test(p)) return;
    hash.update(p).update('\0').update(readFileSync(p)).update('\0');
  };
  entries.forEach(walk);
  return hash.digest('hex');
}

async function install() {
  if (Number(process.versions.node.split('.')[0]) < 20) fail(`Scrivo needs Node 20 or newer; this is ${process.version}.`);
  const wanted = hashOf(['package-lock.json']);
  if (existsSync('node_modules') && current('installed', wanted)) return;
  console.log('Installing packages (npm ci) …');
  if ((await own('npm', ['ci', '--no-audit', '--no-fund'])) !== 0) fail('Installing failed: the messages above say why. Check the network and run the command again.');
  remember('installed', wanted);
}

async function build() {
  layFilesOfPackages(root);
  const wanted = hashOf(['app', 'src', 'public', 'app.json', 'babel.config.js', 'metro.config.js', 'package-lock.json']);
  if (existsSync('dist/index.html') && current('built', wanted)) return;
  console.log('Building the application (a minute or two) …');
  const status = await own('npx', ['expo', 'export', '-p', 'web', '--output-dir', 'dist', '--max-workers', String(os.cpus().length)], { EXPO_OFFLINE: '1', EXPO_NO_TELEMETRY: '1', CI: '1' });
  if (status !== 0) fail('The build failed: the messages above say why.');
  await compressBuild('dist');
  remember('built', wanted);
}

const has = (program) => spawnSync('sh', ['-c', `command -v ${program}`]).status === 0;

/** Programs of Debian that the tests need: Chromium for the interface, others as judges of what is written. */
async function debian(packages) {
  const missing = packages.filter(([program]) => !has(program)).map(([, name]) => name);
  if (!missing.length) return;
  const command = `apt-get update && apt-get install -y --no-install-recommends ${missing.join(' ')}`;
  if (process.getuid?.() !== 0 || !has('apt-get')) fail(`The tests need programs that are not installed. Run: sudo sh -c '${command}'`);
  console.log(`Installing ${missing.join(', ')} …`);
  if ((await own('sh', ['-c', command], { DEBIAN_FRONTEND: 'noninteractive' })) !== 0) fail(`Installing failed. Run: ${command}`);
}

const TEST_PROGRAMS = [
  ['chromium', 'chromium'],
  ['chromium-headless-shell', 'chromium-headless-shell'],
  ['ffprobe', 'ffmpeg'],
  ['unzip', 'unzip'],
  ['python3', 'python3'],
  ['pkill', 'procps'],
  ['pulseaudio', 'pulseaudio'],
  ['parec', 'pulseaudio-utils'],
  ['paperconf', 'libpaper-utils'],
  ['espeak-ng', 'espeak-ng'],
  ['flite', 'flite'],
  ['pdftoppm', 'poppler-utils'],
  ['qpdf', 'qpdf'],
];

/** What is built, and what Debian brings to judge it. */
const ready = () => Promise.all([build(), debian(TEST_PROGRAMS)]);

function serve(demo) {
  const child = spawn('npx', ['tsx', 'server/main.ts'], { stdio: 'inherit', env: { ...process.env, SCRIVO_DEMO: demo ? '1' : '' } });
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
  child.on('exit', (code) => process.exit(code ?? 0));
}

/** What only runs while a core has nothing else to do (Linux): not even the little that a lower priority takes from a recording. */
const IDLE = spawnSync('chrt', ['--idle', '0', 'true']).status === 0 ? ['chrt', '--idle', '0'] : [];
const patiently = (command, args, env, began) => {
  const [first, ...rest] = [...IDLE, command, ...args];
  return own(first, rest, env, began);
};

/** What was begun patiently goes on like everything else, with all that it started. */
function hurry(root) {
  const rows = spawnSync('ps', ['-eo', 'pid=,ppid='], { encoding: 'utf8' }).stdout.trim().split('\n').map((row) => row.trim().split(/\s+/).map(Number));
  const tree = new Set([root]);
  // A child may have a lower number than its parent, where numbers begin anew.
  for (let before = 0; tree.size > before; ) {
    before = tree.size;
    for (const [pid, parent] of rows) if (tree.has(parent)) tree.add(pid);
  }
  // One that has ended meanwhile is told of by `chrt`, and is nothing.
  for (const pid of tree) spawnSync('chrt', ['--other', '--all-tasks', '--pid', '0', String(pid)], { stdio: 'ignore' });
}

const clock = () => new Date().toLocaleTimeString('en-GB');

/** The names of what failed and the first lines of why, from a report of either runner: said once more at the end, where one looks. */
function failures(report) {
  const first = (text) => text.replace(/\u001b\[[0-9;]*m/g, '').split('\n').filter((l) => l.trim()).slice(0, 6).join('\n    ');
  const units = (report.testResults ?? []).flatMap((suite) => {
    const cases = suite.assertionResults.filter((a) => a.status === 'failed').map((a) => `${a.fullName}\n    ${first(a.failureMessages.join('\n'))}`);
    return cases.length || suite.status !== 'failed' ? cases : [`${path.relative(root, suite.name)}\n    ${first(suite.message)}`];
  });
  const browser = specsOf(report).filter((s) => !s.ok).map((s) => `${s.file}:${s.line} ${s.title}\n    ${first(s.tests.flatMap((t) => t.results.map((r) => r.error?.message ?? '')).join('\n'))}`);
  return [...units, ...browser];
}

const specsOf = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specsOf)];

/** What was left out, and why: a starved machine tells nothing of sound. */
const untold = (report) => specsOf(report).flatMap((s) => s.tests.flatMap((t) => t.annotations.filter((a) => a.type === 'skip').map((a) => `${s.file}:${s.line} ${s.title}\n    ${a.description}`)));

const readReport = (file) => (existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null);

const ELSEWHERE = { TZ: 'Asia/Kolkata', LC_ALL: 'sv_SE.UTF-8' };

async function unitTests() {
  console.log(`\nUnit tests (${clock()})`);
  const out = stamp('jest.json');
  rmSync(out, { force: true });
  // In another zone and language than the machine's own: what depends on them shows here or there.
  const status = await patiently('npx', ['jest', '--maxWorkers=2', '--json', `--outputFile=${out}`], ELSEWHERE);
  const result = readReport(out);
  return { failures: result ? failures(result) : ['jest: no report'], passed: result?.numPassedTests ?? 0, failed: (result?.numFailedTests ?? 0) + (result?.numRuntimeErrorTestSuites ?? 0) || (status === 0 ? 0 : 1) };
}

async function typesAndLint() {
  console.log(`\nTypes and lint (${clock()})`);
  const checks = [
    ['npx', ['tsc', '--noEmit']],
    ['npx', ['eslint', '.', '--max-warnings', '0']],
    ['node', ['scripts/circles.mjs']],
  ];
  const results = await Promise.all(checks.map(([command, args]) => patiently(command, args)));
  const failures = checks.filter((_, i) => results[i] !== 0).map(([command, args]) => [command, ...args].join(' '));
  return { passed: checks.length - failures.length, failed: failures.length, failures };
}

/** Debian's Chromium without what draws its windows: a quarter less processor for the same tests (262 and 196 s for 22 of them). What is heard is tested in the whole browser. */
const SHELL = '/usr/bin/chromium-headless-shell';

async function browserTests(project, workers, filters, start = own, name = project) {
  console.log(`\nBrowser tests: ${name} (${clock()})`);
  const out = stamp(`playwright-${name}.json`);
  rmSync(out, { force: true });
  // Each run has a folder of its own, for it begins by clearing it.
  const how = ['playwright', 'test', '-c', 'tests/playwright.config.ts', `--project=${project}`, `--workers=${workers}`, '--output', `test-results/${name}`, ...(filters.length ? ['--pass-with-no-tests'] : [])];
  const status = await start('npx', [...how, ...filters], { PLAYWRIGHT_JSON_OUTPUT_NAME: out, ...(project === 'others' && existsSync(SHELL) ? { HEADLESS_SHELL: SHELL } : {}) });
  const report = readReport(out);
  const stats = report?.stats;
  return { report, failures: report ? failures(report) : [`playwright ${name}: no report`], untold: report ? untold(report) : [], passed: stats?.expected ?? 0, failed: (stats?.unexpected ?? 0) + (stats?.flaky ?? 0) || (status === 0 ? 0 : 1) };
}

async function test(filters) {
  mkdirSync(CACHE, { recursive: true });
  const began = Date.now();
  const programs = debian(TEST_PROGRAMS);
  await install();
  const built = build();
  const whole = !filters.length;
  // Two recordings at once would starve each other on a small machine, so those that need whole sound run one at a time.
  const sound = async () => {
    await Promise.all([built, programs]);
    return browserTests('sound', 1, filters);
  };
  const done = [];
  /** What failed behind all others and was run once more. */
  const again = [];
  if (!IDLE.length) {
    await programs;
    done.push(...(whole ? [await typesAndLint(), await unitTests()] : []), await sound(), await browserTests('others', 2, filters));
  } else {
    // The others are done in the time that recordings leave. The cores hardly rest so: on a virtual machine whose host is loaded one that rested is woken late, and a
    // microphone that is to be read every 10 ms loses sound by that.
    let over = Infinity;
    let behind;
    const others = Promise.all([built, programs]).then(() => browserTests('others', 2, filters, (command, args, env) => patiently(command, args, env, (pid) => (behind = pid))));
    done.push(await sound());
    over = Date.now();
    if (behind) hurry(behind);
    // They compute and wait for nothing: in the time in which the browser's tests wait, which is half of theirs once they are alone.
    const checked = whole ? await Promise.all([unitTests(), typesAndLint()]) : [];
    done.push(...checked, await others);
    // What failed so far behind all others tells nothing; it is run again, where it counts.
    const { report } = await others;
    const late = report ? specsOf(report).filter((s) => !s.ok && s.tests.some((t) => t.results.some((r) => Date.parse(r.startTime) < over))) : [];
    if (late.length) {
      again.push(...late.map((s) => `${s.file}:${s.line}`));
      const first = done.pop();
      const kept = { ...report, suites: [{ specs: specsOf(report).filter((s) => !late.includes(s)) }] };
      done.push({ ...first, failures: failures(kept), untold: untold(kept), failed: Math.max(0, first.failed - late.length) });
      done.push(await browserTests('others', 2, late.map((s) => `/${s.file}:${s.line}`), own, 'others again'));
    }
  }
  const sum = (what) => done.reduce((n, d) => n + d[what], 0);
  for (const failure of done.flatMap((d) => d.failures)) console.log(`\nFAILED ${failure}`);
  const untoldOnes = done.flatMap((d) => d.untold ?? []);
  for (const one of untoldOnes) console.log(`\nNOT TOLD ${one}`);
  // What was promised of recordings has to be told: a run that cannot is none.
  const isPromise = untoldOnes.some((one) => /^(promise|kept|starved)\.spec/.test(one));
  console.log(`\n${sum('passed')} passed, ${sum('failed')} failed${untoldOnes.length ? `, ${untoldOnes.length} not told` : ''}, in ${Math.round((Date.now() - began) / 1000)} s${again.length ? `; run again at full speed: ${again.join(', ')}` : ''}`);
  process.exit(sum('failed') || isPromise ? 1 : 0);
}

const [command = 'start', ...rest] = process.argv.slice(2);
// The tests bring Debian's programs meanwhile.
if (command !== 'test') await install();
switch (command) {
  case 'start':
  case 'demo':
    await build();
    serve(command === 'demo');
    break;
  case 'test':
    await test(rest);
    break;
  case 'bench':
    await ready();
    process.exit(run('npx', ['tsx', 'tests/bench/main.ts', ...rest]));
    break;
  case 'abuse':
    await ready();
    process.exit(run('npx', ['tsx', 'tests/abuse/main.ts', ...rest]));
    break;
  case 'mutate':
    process.exit(run('npx', ['tsx', 'scripts/mutate.ts', ...rest]));
    break;
  case 'learn':
    process.exit(run('npx', ['tsx', 'scripts/learn.ts', ...rest]));
    break;
  case 'demo:make':
    process.exit(run('npx', ['tsx', 'demo/make.ts', ...rest]) || run('npx', ['tsx', 'demo/heard.ts']));
    break;
  case 'screenshots':
    await ready();
    process.exit(run('npx', ['tsx', 'scripts/screenshots.ts', ...rest]));
    break;
  default:
    fail(`There is no command “${command}”.`);
}
