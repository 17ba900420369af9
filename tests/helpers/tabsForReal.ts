/**
 * A browser whose tabs go into the background for real. Playwright holds every page visible, so this one is driven through the
 * browser's own protocol on a pipe (https://chromedevtools.github.io/devtools-protocol/): JSON messages, each ended by a zero byte.
 */
import { spawn } from 'node:child_process';
import type { Readable, Writable } from 'node:stream';
import { closedLater } from './app';
import type { Asked } from './tap';

type Answer = { result?: unknown; error?: { message: string } };

export interface RealTab extends Asked {
  /** Value of an expression in the page; a promise is awaited. */
  evaluate<T>(expression: string): Promise<T>;
  /** A short line with the mouse. */
  line(x: number, y: number): Promise<void>;
  /** Waits until an expression is true, asked anew every 100 ms from outside: a hidden page's own timers are slowed down. */
  until(expression: string): Promise<void>;
  /** Presses the button with this name once it is there. */
  press(name: string): Promise<void>;
  toFront(): Promise<void>;
}

export interface RealBrowser {
  readonly tab: RealTab;
  /** Another tab comes to the front: the first one is hidden. */
  coverTab(): Promise<void>;
  close(): Promise<void>;
}

export async function startRealTabs(url: string, profile: string, microphone: string, before: string): Promise<RealBrowser> {
  const args = ['--headless', '--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--no-first-run', '--window-size=390,844'];
  args.push('--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream', `--use-file-for-fake-audio-capture=${microphone}%noloop`, `--user-data-dir=${profile}`, '--remote-debugging-pipe', 'about:blank');
  const browser = spawn(process.env.CHROMIUM ?? '/usr/bin/chromium', args, { stdio: ['ignore', 'ignore', 'ignore', 'pipe', 'pipe'] });
  const gone = new Promise<void>((resolve) => browser.once('exit', () => resolve()));
  const [to, from] = [browser.stdio[3] as Writable, browser.stdio[4] as Readable];
  const waiting = new Map<number, (a: Answer) => void>();
  let rest = '';
  from.setEncoding('utf8');
  from.on('data', (text: string) => {
    const messages = (rest + text).split('\0');
    rest = messages.pop()!;
    for (const m of messages) {
      const answer = JSON.parse(m) as Answer & { id?: number };
      if (answer.id !== undefined) waiting.get(answer.id)?.(answer);
    }
  });
  let asked = 0;
  const ask = async <T>(method: string, params: object = {}, sessionId?: string): Promise<T> => {
    const id = ++asked;
    const answer = await new Promise<Answer>((resolve) => {
      waiting.set(id, resolve);
      to.write(`${JSON.stringify({ id, method, params, sessionId })}\0`);
    });
    waiting.delete(id);
    if (answer.error) throw new Error(`${method}: ${answer.error.message}`);
    return answer.result as T;
  };

  await ask('Browser.grantPermissions', { permissions: ['audioCapture', 'wakeLockScreen'], origin: new URL(url).origin });
  const { targetInfos } = await ask<{ targetInfos: { type: string; targetId: string }[] }>('Target.getTargets');
  const { targetId } = targetInfos.find((t) => t.type === 'page')!;
  const { sessionId } = await ask<{ sessionId: string }>('Target.attachToTarget', { targetId, flatten: true });
  await ask('Page.enable', {}, sessionId);
  await ask('Page.addScriptToEvaluateOnNewDocument', { source: before }, sessionId);
  await ask('Page.navigate', { url }, sessionId);

  const evaluate = async <T>(expression: string): Promise<T> => {
    const { result, exceptionDetails } = await ask<{ result: { value: T }; exceptionDetails?: { text: string } }>('Runtime.evaluate', { expression, awaitPromise: true, returnByValue: true, userGesture: true }, sessionId);
    if (exceptionDetails) throw new Error(`${expression}: ${exceptionDetails.text}`);
    return result.value;
  };
  const until = async (expression: string) => {
    const end = Date.now() + 40_000;
    while (!(await evaluate<boolean>(`Promise.resolve(${expression}).then(Boolean)`))) {
      if (Date.now() > end) throw new Error(`Waited in vain for: ${expression}`);
      await new Promise((r) => setTimeout(r, 100));
    }
  };
  const named = (name: string) => `document.querySelector('[role="button"][aria-label="${name}"], button[aria-label="${name}"]')`;
  const close = async () => {
    // One that is gone gives no answer.
    await Promise.race([ask('Browser.close').catch(() => undefined), gone]);
    await gone;
  };
  closedLater('tabs', close);
  return {
    tab: {
      evaluate,
      until,
      press: async (name) => {
        await until(named(name));
        await evaluate(`${named(name)}.click()`);
      },
      line: async (x, y) => {
        for (const [i, type] of (['mousePressed', 'mouseMoved', 'mouseReleased'] as const).entries()) await ask('Input.dispatchMouseEvent', { type, x: x + 12 * i, y, button: 'left', buttons: i < 2 ? 1 : 0, clickCount: 1 }, sessionId);
      },
      toFront: () => ask('Target.activateTarget', { targetId }),
    },
    coverTab: async () => void (await ask('Target.createTarget', { url: 'about:blank', newWindow: false })),
    close,
  };
}
