#!/usr/bin/env node
// The commands of package.json. Runs with nothing installed: it installs what is missing, builds when something changed, then works.
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, openSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
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

function install() {
  if (Number(process.versions.node.split('.')[0]) < 20) fail(`Scrivo needs Node 20 or newer; this is ${process.version}.`);
  const wanted = hashOf(['package-lock.json']);
  if (existsSync('node_modules') && current('installed', wanted)) return;
  console.log('Installing packages (npm ci) …');
  if (run('npm', ['ci', '--no-audit', '--no-fund']) !== 0) fail('Installing failed: the messages above say why. Check the network and run the command again.');
  remember('installed', wanted);
}

function build() {
  layFilesOfPackages(root);
  const wanted = hashOf(['app', 'src', 'public', 'app.json', 'babel.config.js', 'metro.config.js', 'package-lock.json']);
  if (existsSync('dist/index.html') && current('built', wanted)) return;
  console.log('Building the application (a minute or two) …');
  const status = run('npx', ['expo', 'export', '-p', 'web', '--output-dir', 'dist'], { env: { EXPO_OFFLINE: '1', EXPO_NO_TELEMETRY: '1', CI: '1' } });
  if (status !== 0) fail('The build failed: the messages above say why.');
  remember('built', wanted);
}

const has = (program) => spawnSync('sh', ['-c', `command -v ${program}`]).status === 0;

/** Programs of Debian that the tests need: Chromium for the interface, others as judges of what is written. */
function debian(packages) {
  const missing = packages.filter(([program]) => !has(program)).map(([, name]) => name);
  if (!missing.length) return;
  const command = `apt-get update && apt-get install -y --no-install-recommends ${missing.join(' ')}`;
  if (process.getuid?.() !== 0 || !has('apt-get')) fail(`The tests need programs that are not installed. Run: sudo sh -c '${command}'`);
  console.log(`Installing ${missing.join(', ')} …`);
  if (run('sh', ['-c', command], { env: { DEBIAN_FRONTEND: 'noninteractive' } }) !== 0) fail(`Installing failed. Run: ${command}`);
}

const TEST_PROGRAMS = [
  ['chromium', 'chromium'],
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

function serve(demo) {
  const child = spawn('npx', ['tsx', 'server/main.ts'], { stdio: 'inherit', env: { ...process.env, SCRIVO_DEMO: demo ? '1' : '' } });
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
  child.on('exit', (code) => process.exit(code ?? 0));
}

/** A command that lets what is more urgent go first, with what it says in a file until it is asked for. */
function aside(name, command, args) {
  const log = stamp(`${name}.log`);
  const out = openSync(log, 'w');
  const child = spawn('nice', ['-n', '10', command, ...args], { stdio: ['ignore', out, out] });
  return new Promise((resolve) => {
    child.on('error', (e) => resolve({ status: 1, said: e.message }));
    child.on('exit', (code) => resolve({ status: code ?? 1, said: readFileSync(log, 'utf8') }));
  });
}

/** Types and lint take the time that the tests of the interface leave. */
async function typesAndLint() {
  const types = await aside('types', 'npx', ['tsc', '--noEmit']);
  const lint = await aside('lint', 'npx', ['eslint', '.', '--max-warnings', '0']);
  const circles = await aside('circles', 'node', ['scripts/circles.mjs']);
  const passed = [types.status, lint.status || circles.status].filter((s) => s === 0).length;
  return { passed, failed: 2 - passed, said: `\nTypes\n${types.said}\nLint\n${lint.said}${circles.said}` };
}

function unitTests() {
  console.log('\nUnit tests');
  const out = stamp('jest.json');
  rmSync(out, { force: true });
  const status = run('npx', ['jest', '--maxWorkers=2', '--json', `--outputFile=${out}`]);
  const result = existsSync(out) ? JSON.parse(readFileSync(out, 'utf8')) : null;
  return { passed: result?.numPassedTests ?? 0, failed: (result?.numFailedTests ?? 0) + (result?.numRuntimeErrorTestSuites ?? 0) || (status === 0 ? 0 : 1) };
}

async function test(filters) {
  debian(TEST_PROGRAMS);
  build();
  mkdirSync(CACHE, { recursive: true });
  let [passed, failed] = [0, 0];
  const only = filters.length > 0;
  const add = (more) => {
    passed += more.passed;
    failed += more.failed;
  };
  const browserTests = async (project, workers) => {
    console.log(`\nBrowser tests: ${project}`);
    const out = stamp(`playwright-${project}.json`);
    rmSync(out, { force: true });
    const child = spawn('npx', ['playwright', 'test', '-c', 'tests/playwright.config.ts', `--project=${project}`, `--workers=${workers}`, ...(only ? ['--pass-with-no-tests'] : []), ...filters], {
      stdio: 'inherit',
      env: { ...process.env, PLAYWRIGHT_JSON_OUTPUT_NAME: out },
    });
    const status = await new Promise((resolve) => child.on('exit', (code) => resolve(code ?? 1)));
    const stats = existsSync(out) ? JSON.parse(readFileSync(out, 'utf8')).stats : null;
    add({ passed: stats?.expected ?? 0, failed: (stats?.unexpected ?? 0) + (stats?.flaky ?? 0) || (status === 0 ? 0 : 1) });
  };
  if (!only) add(unitTests());
  // Two recordings at once would starve each other on a small machine, and so would anything else beside one.
  await browserTests('sound', 1);
  const rest = only ? null : typesAndLint();
  await browserTests('others', 2);
  if (rest) {
    const done = await rest;
    console.log(done.said);
    add(done);
  }
  console.log(`\n${passed} passed, ${failed} failed`);
  process.exit(failed ? 1 : 0);
}

const [command = 'start', ...rest] = process.argv.slice(2);
install();
switch (command) {
  case 'start':
  case 'demo':
    build();
    serve(command === 'demo');
    break;
  case 'test':
    await test(rest);
    break;
  case 'bench':
    debian(TEST_PROGRAMS);
    build();
    process.exit(run('npx', ['tsx', 'tests/bench/main.ts', ...rest]));
    break;
  case 'abuse':
    debian(TEST_PROGRAMS);
    build();
    process.exit(run('npx', ['tsx', 'tests/abuse/main.ts', ...rest]));
    break;
  case 'learn':
    process.exit(run('npx', ['tsx', 'scripts/learn.ts', ...rest]));
    break;
  case 'demo:make':
    process.exit(run('npx', ['tsx', 'demo/make.ts', ...rest]) || run('npx', ['tsx', 'demo/heard.ts']));
    break;
  case 'screenshots':
    debian(TEST_PROGRAMS);
    build();
    process.exit(run('npx', ['tsx', 'scripts/screenshots.ts', ...rest]));
    break;
  default:
    fail(`There is no command “${command}”.`);
}
