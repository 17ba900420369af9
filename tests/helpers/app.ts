/** Starts the real server and the real browser for a test, and drives a pen. */
import { mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { unzipSync, zipSync } from 'fflate';
import { chromium, type Browser, type BrowserContext, type CDPSession, type Locator, type Page } from '@playwright/test';
import { makeApp } from '../../server/app';
import { spellTime, wavOf, type Rests } from './dtmf';
import { gatherTroubles, installTap } from './tap';

export const ROOT = path.resolve(__dirname, '../..');
export const PHONE = { width: 390, height: 844 };
export const WIDE = { width: 1280, height: 800 };

/** Of the WebDAV stand-in in tests. */
export const DAV = { user: 'tester', password: 'a password for tests' };

/** The demo notes as they come without folders, for tests that file them themselves. */
function looseDemo(): string {
  const folder = tempFolder();
  const from = path.join(ROOT, 'demo/notes');
  for (const name of readdirSync(from)) if (name.endsWith('.scrivo')) symlinkSync(path.join(from, name), path.join(folder, name));
  const notes = JSON.parse(readFileSync(path.join(from, 'notes.json'), 'utf8')) as { id: string; file: string }[];
  writeFileSync(path.join(folder, 'notes.json'), JSON.stringify(notes.map(({ id, file }) => ({ id, file }))));
  return folder;
}

/** The demo notes as if nobody had looked at their sound. */
function unheardDemo(): string {
  const folder = tempFolder();
  const from = path.join(ROOT, 'demo/notes');
  for (const name of readdirSync(from)) {
    const bytes = new Uint8Array(readFileSync(path.join(from, name)));
    writeFileSync(path.join(folder, name), name.endsWith('.scrivo') ? zipSync(Object.fromEntries(Object.entries(unzipSync(bytes)).filter(([n]) => !n.startsWith('heard/'))), { level: 0 }) : bytes);
  }
  return folder;
}

/** Which demo notes a server has: as they are, without folders, or as if nobody had looked at their sound. */
export type DemoNotes = boolean | 'loose' | 'unheard';
export interface TestServer {
  readonly url: string;
  readonly port: number;
  readonly withDemo: DemoNotes;
  readonly close: () => Promise<void>;
}

export async function startServer(withDemo: DemoNotes = false, port = 0, dav?: string): Promise<TestServer> {
  const app = makeApp({ dist: path.join(ROOT, 'dist'), demo: withDemo === 'loose' ? looseDemo() : withDemo === 'unheard' ? unheardDemo() : path.join(ROOT, 'demo/notes'), withDemo: withDemo !== false, ...(dav ? { dav: { folder: dav, ...DAV } } : {}) });
  const server = await new Promise<Server>((resolve, reject) => {
    const s = app.listen(port, '127.0.0.1', (e?: Error) => (e ? reject(e) : resolve(s)));
  });
  const chosen = (server.address() as AddressInfo).port;
  const close = () =>
    new Promise<void>((resolve) => {
      server.close(() => resolve());
      server.closeAllConnections();
    });
  closedLater('a server', close);
  return { url: `http://127.0.0.1:${chosen}`, port: chosen, withDemo, close };
}

export interface BrowserOptions {
  /** Sound file that is the microphone; without one the browser's own beep is. */
  readonly microphone?: string;
  readonly viewport?: { width: number; height: number };
  /** Folder of the browser's data, to come back to the same notes. */
  readonly profile?: string;
  /** The microphone is refused. */
  readonly refuse?: boolean;
  /** No microphone in the machine. */
  readonly noDevice?: boolean;
  readonly dark?: boolean;
  /** More of the browser's own switches. */
  readonly args?: readonly string[];
  readonly scale?: number;
  /** The application may keep itself for when there is no network. */
  readonly offline?: boolean;
  /** Server of a sound card to play to (helpers/loudspeaker.ts); without one the browser plays into nothing. */
  readonly loudspeaker?: string;
  /** A glass under fingers: no mouse. */
  readonly touch?: boolean;
  /** Things move. */
  readonly motion?: boolean;
  /** False: nothing plays that nobody touched. */
  readonly autoplay?: boolean;
  /** The microphone is not granted beforehand: the browser asks, and is answered yes. */
  readonly asks?: boolean;
  /** With what draws its windows, also where a test needs none of that. */
  readonly whole?: boolean;
  /** The page finds time for what can wait, so that handwriting is read and speech is listened to closely. */
  readonly idle?: boolean;
}

/** What was started, for a test that is begun anew. */
const open = new Map<() => Promise<unknown>, string>();
/** `what`: for the sentence where it does not close. */
export const closedLater = (what: string, close: () => Promise<unknown>): unknown => open.set(close, what);
/** So long something may take to close, ms. */
const CLOSING_MS = 20_000;

/** Closes what a test that failed left open. */
export async function closeAll(): Promise<void> {
  const all = [...open];
  open.clear();
  const waiting = new Set(all);
  // What is closed or broken already says so, and is not what the test is about.
  const done = Promise.all(all.map((it) => it[0]().then(() => waiting.delete(it), () => waiting.delete(it))));
  let timer: NodeJS.Timeout | undefined;
  await Promise.race([done, new Promise((late) => (timer = setTimeout(late, CLOSING_MS)))]);
  clearTimeout(timer);
  if (waiting.size) console.log(`  not closed within ${CLOSING_MS / 1000} s: ${[...waiting].map(([, what]) => what).join(', ')}`);
}

const temporary: string[] = [];
export function tempFolder(): string {
  const folder = mkdtempSync(path.join(tmpdir(), 'scrivo-'));
  temporary.push(folder);
  return folder;
}
// At the very end, when the last browser has let go of its files.
process.on('exit', () => {
  for (const folder of temporary) {
    try {
      rmSync(folder, { recursive: true, force: true, maxRetries: 3 });
    } catch {
      // A folder in the system's own place for such; it is cleared there.
    }
  }
});

/** Most tests need no browser of their own, only one without a memory: it is started once. */
const common = new Map<string, Promise<Browser>>();

export async function startBrowser(options: BrowserOptions = {}): Promise<BrowserContext> {
  const launch = {
    // Only the whole browser asks for a permission, or refuses it; and films are made by its encoders.
    executablePath: process.env.CHROMIUM ?? (options.refuse || options.asks || options.whole ? undefined : process.env.HEADLESS_SHELL) ?? '/usr/bin/chromium',
    ...(options.loudspeaker ? { env: { ...process.env, PULSE_SERVER: options.loudspeaker }, ignoreDefaultArgs: ['--mute-audio'] } : {}),
    args: [
      '--no-sandbox',
      // A page of a test lives for seconds: tidying up after its first megabytes again and again took a tenth of the processor's time (65 and 58 s for 18 tests of the tools).
      '--js-flags=--min-semi-space-size=16',
      ...(options.args ?? []),
      '--disable-gpu',
      '--disable-quic',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--no-first-run',
      `--autoplay-policy=${options.autoplay === false ? 'document-user-activation-required' : 'no-user-gesture-required'}`,
      ...(options.refuse ? ['--deny-permission-prompts'] : []),
      ...(options.noDevice ? [] : ['--use-fake-device-for-media-stream']),
      ...(options.refuse || options.noDevice ? [] : ['--use-fake-ui-for-media-stream']),
      ...(options.microphone ? [`--use-file-for-fake-audio-capture=${options.microphone}%noloop`] : []),
    ],
  };
  const context = {
    viewport: options.viewport ?? PHONE,
    deviceScaleFactor: options.scale ?? 1,
    ...(options.touch ? { hasTouch: true, isMobile: true } : {}),
    colorScheme: options.dark ? ('dark' as const) : ('light' as const),
    reducedMotion: options.motion ? ('no-preference' as const) : ('reduce' as const),
    // What a test changes about the network must reach the page; the test of being offline lets it in.
    serviceWorkers: options.offline ? ('allow' as const) : ('block' as const),
    acceptDownloads: true,
    ...(options.refuse || options.asks ? {} : { permissions: ['microphone'] }),
  };
  const own = options.profile ?? options.microphone ?? options.loudspeaker ?? options.args;
  if (own || options.refuse || options.asks || options.noDevice || options.autoplay === false || options.offline) {
    return prepared(await chromium.launchPersistentContext(options.profile ?? tempFolder(), { ...launch, ...context }), options);
  }
  const browser = common.get(launch.executablePath) ?? chromium.launch(launch);
  common.set(launch.executablePath, browser);
  const made = await (await browser).newContext(context);
  await made.newPage();
  return prepared(made, options);
}

async function prepared(context: BrowserContext, { idle }: BrowserOptions): Promise<BrowserContext> {
  // Scripts run by tsx carry a helper of its compiler along, which the page does not have.
  await context.addInitScript('globalThis.__name ??= (f) => f');
  // Most tests are done before a model is loaded that reads or hears, and would only wait for it.
  if (!idle) await context.addInitScript('{ const real = globalThis.requestIdleCallback; globalThis.requestIdleCallback = (work, how) => (how?.timeout ? real(work, how) : 0); }');
  await context.addInitScript(installTap);
  const troubles = gatherTroubles(context);
  const close = context.close.bind(context);
  closedLater('a browser', close);
  context.close = async (...given) => {
    await close(...given);
    if (troubles.length) throw new Error(`In the pages of this browser something went wrong:\n${troubles.join('\n')}`);
  };
  return context;
}

/** A sound file in which tones spell the time. */
export function spelledMicrophone(folder: string, seconds: number, rests?: Rests): string {
  const file = path.join(folder, 'microphone.wav');
  writeFileSync(file, wavOf(spellTime(seconds, 48_000, rests), 48_000));
  return file;
}

/** From one place of the pen to the next, ms: as often as a screen is drawn twice. */
const EVERY_MS = 8;

/** A pen with pressure, which Playwright's own mouse lacks. */
export class Pen {
  private constructor(
    private readonly cdp: CDPSession,
    private readonly page: Page,
  ) {}

  static async on(page: Page): Promise<Pen> {
    return new Pen(await page.context().newCDPSession(page), page);
  }

  private send(type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', x: number, y: number, force: number, button: 'left' | 'right' = 'left', wall?: number) {
    const timestamp = wall === undefined ? {} : { timestamp: wall / 1000 };
    return this.cdp.send('Input.dispatchMouseEvent', { type, x, y, button, buttons: type === 'mouseReleased' ? 0 : button === 'left' ? 1 : 2, clickCount: 1, pointerType: 'pen', force, ...timestamp });
  }

  /** The pen is down: it goes through the points as evenly as a hand does, however late a starved machine hears of it. Gives when it got there, ms since the epoch. */
  private async along(points: readonly { x: number; y: number }[], force: number, button: 'left' | 'right' = 'left'): Promise<number> {
    const from = Date.now();
    await Promise.all(points.map((p, i) => this.send('mouseMoved', p.x, p.y, force, button, from + (i + 1) * EVERY_MS)));
    const until = from + (points.length + 1) * EVERY_MS;
    // What is done next comes after it, for the page too.
    await new Promise((done) => setTimeout(done, Math.max(0, until - Date.now())));
    return until;
  }

  /** A stroke with the side button held. */
  async sideStroke(points: readonly { x: number; y: number }[]): Promise<void> {
    await this.send('mousePressed', points[0].x, points[0].y, 0.5, 'right');
    await this.along(points.slice(1), 0.5, 'right');
    await this.send('mouseReleased', points[points.length - 1].x, points[points.length - 1].y, 0, 'right');
  }

  /** A stroke that is held still at its end until `held` is done. */
  async strokeHeld(points: readonly { x: number; y: number }[], held: () => Promise<void>): Promise<void> {
    await this.send('mousePressed', points[0].x, points[0].y, 0.6);
    await this.along(points.slice(1), 0.6);
    await held();
    await this.send('mouseReleased', points[points.length - 1].x, points[points.length - 1].y, 0);
  }

  /** A stroke through points of the view. */
  async stroke(points: readonly { x: number; y: number }[], pressure = 0.6): Promise<void> {
    await this.send('mousePressed', points[0].x, points[0].y, pressure);
    await this.along(points.slice(1), pressure);
    const last = points[points.length - 1];
    await this.send('mouseReleased', last.x, last.y, 0);
  }

  /** A stroke whose moves come one by one when a hand makes them: what a move costs is measured so, not what a hundred of them cost at once. */
  async paced(points: readonly { x: number; y: number }[], pressure = 0.6): Promise<void> {
    await this.send('mousePressed', points[0].x, points[0].y, pressure);
    const from = performance.now();
    const sent: Promise<unknown>[] = [];
    for (let i = 1; i < points.length; i++) {
      await new Promise((due) => setTimeout(due, Math.max(0, from + i * EVERY_MS - performance.now())));
      sent.push(this.send('mouseMoved', points[i].x, points[i].y, pressure));
    }
    await Promise.all(sent);
    const last = points[points.length - 1];
    await this.send('mouseReleased', last.x, last.y, 0);
  }

  /** A stroke whose moves come faster than the page takes them. */
  async rush(points: readonly { x: number; y: number }[], pressure = 0.6): Promise<void> {
    await this.send('mousePressed', points[0].x, points[0].y, pressure);
    await Promise.all(points.slice(1).map((p) => this.send('mouseMoved', p.x, p.y, pressure)));
    const last = points[points.length - 1];
    await this.send('mouseReleased', last.x, last.y, 0);
  }

  /** A small written thing, about `w` by `h` px, with its left top at x, y. */
  scribble(x: number, y: number, w = 20, h = 8): Promise<void> {
    const points = Array.from({ length: 10 }, (_, i) => ({ x: x + (w * i) / 9, y: y + h / 2 + (h / 2) * Math.sin(i * 1.9) }));
    return this.stroke(points);
  }

  async touch(x: number, y: number): Promise<void> {
    await this.cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [{ x, y }] });
    await this.cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  }

  async fingers(type: 'touchStart' | 'touchMove' | 'touchEnd', points: readonly { x: number; y: number; radiusX?: number; radiusY?: number }[]): Promise<void> {
    await this.cdp.send('Input.dispatchTouchEvent', { type, touchPoints: points.map((p, id) => ({ ...p, id })) });
  }

  get target(): Page {
    return this.page;
  }
}

export const button = (page: Page, name: string): Locator => page.getByRole('button', { name, exact: true });

/** Does something with what the deck's row has no place for, and folds it away again. */
export async function inMore<T>(page: Page, act: () => Promise<T>): Promise<T> {
  await page.getByRole('group', { name: 'Mode' }).waitFor();
  const more = button(page, 'More tools');
  const isOpen = async () => (await more.count()) > 0 && (await more.getAttribute('aria-pressed')) === 'true';
  const opens = (await more.count()) > 0 && (await more.isEnabled()) && (await button(page, 'Keys').count()) === 0;
  if (opens) await more.click();
  const result = await act();
  if (opens && (await isOpen()) && (await button(page, 'Keys').count())) await more.click();
  return result;
}

/** What the menu of the note calls it. */
const IN_MENU: Readonly<Record<string, RegExp>> = { Paper: /^Paper$/, 'Read only': /^(Keep from being changed|Let it be changed)$/ };

/** Presses a button of the note wherever it stands: in the deck, folded away, in the head or in the menu. */
export async function press(page: Page, name: string): Promise<void> {
  if (name === 'Zoom') return page.getByRole('button', { name: /^Zoom, / }).click();
  if (name === 'Pages') return page.getByRole('button', { name: /^Pages, / }).click();
  if (IN_MENU[name]) {
    await button(page, 'What to do with this note').click();
    return page.getByRole('button', { name: IN_MENU[name] }).click();
  }
  const it = button(page, name);
  if (await it.isVisible()) return it.click();
  // Where the row has the whole cup there is no “More”: it stands beside the colours.
  if (name === 'Pen cup' && (await button(page, 'More tools').count()) === 0) await button(page, 'Colours and widths').click();
  await inMore(page, () => it.click());
}

/** A switch of Listen. */
export const turn = (page: Page, name: string | RegExp): Promise<void> => inMore(page, () => page.getByRole('switch', { name }).click());

/** A list of Listen. */
export const choose = async (page: Page, name: string, what: string | { label: string }): Promise<void> => void (await inMore(page, () => page.getByLabel(name).selectOption(what)));

/** A new note without sound, from Today. */
export async function blankNote(page: Page): Promise<void> {
  await button(page, 'Write without sound').click();
  await page.getByTestId('page-1').waitFor();
}

/** From Today: a new note that records. */
export async function recordNew(page: Page): Promise<void> {
  await button(page, 'Record').click();
  await page.getByTestId('recording-clock').waitFor();
}

/** Waits until the pages have stopped moving: ten frames in one place. */
export const atRest = (page: Page): Promise<void> =>
  page.locator('.surface-scroller').evaluate(async (e) => {
    for (let still = 0, last = -1; still < 10; ) {
      await new Promise((r) => requestAnimationFrame(r));
      still = e.scrollTop === last ? still + 1 : 0;
      last = e.scrollTop;
    }
  });

export const saved = (page: Page): Promise<void> => page.locator('[data-testid="save-state"][data-state="saved"]').waitFor();

/** Brings a file in from Today, once its offer says `told`. */
export async function bringFile(page: Page, file: string, told: RegExp | string): Promise<void> {
  await page.getByRole('button', { name: 'Bring in', exact: true }).click();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), button(page, 'Choose files').click()]);
  await chooser.setFiles(file);
  await page.getByRole('dialog').getByText(told).waitFor({ timeout: 30_000 });
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in', exact: true }).click();
}
