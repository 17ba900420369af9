/**
 * A sound card that is none, of PulseAudio (Debian's package), for what a browser really plays: the sound is taken where the card would sound it,
 * behind every buffer of the browser's, and with the time at which it left.
 */
import { execFileSync, spawn } from 'node:child_process';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { closedLater, tempFolder } from './app';
import { sampleClock, type Arrival, type TimedPcm } from './tap';

const RATE = 48_000;

export interface Loudspeaker {
  /** For the browser that plays to it. */
  readonly server: string;
  /** Everything that was played so far; event times are ms since 1970. */
  heard(): TimedPcm;
  close(): Promise<void>;
}

/**
 * What to add to event times of a page for the times of `heard`, ms. Both clocks began with the clock on the wall, at different times, and that one may have been
 * set in between: so they are held against each other now. The quickest of some answers tells it best.
 */
export async function clockOf(page: Page): Promise<number> {
  let [best, offset] = [Infinity, 0];
  for (let i = 0; i < 20; i++) {
    const asked = performance.timeOrigin + performance.now();
    const theirs = await page.evaluate(() => performance.now());
    const took = performance.timeOrigin + performance.now() - asked;
    if (took < best) [best, offset] = [took, asked + took / 2 - theirs];
  }
  return offset;
}

export async function startLoudspeaker(): Promise<Loudspeaker> {
  const folder = tempFolder();
  const server = `unix:${path.join(folder, 'socket')}`;
  const env = { ...process.env, HOME: folder, XDG_RUNTIME_DIR: folder, PULSE_SERVER: server };
  const card = spawn('pulseaudio', ['-n', '--daemonize=no', '--exit-idle-time=-1', `--load=module-null-sink sink_name=card rate=${RATE}`, `--load=module-native-protocol-unix socket=${path.join(folder, 'socket')} auth-anonymous=1`], { env: { ...env, PULSE_SERVER: '' }, stdio: 'ignore' });
  // Also when the test fails before it closes it.
  process.on('exit', () => card.kill());
  const asked = (): boolean => {
    try {
      return execFileSync('pactl', ['list', 'short', 'sources'], { env, stdio: 'pipe' }).includes('card.monitor');
    } catch {
      return false;
    }
  };
  for (const until = Date.now() + 10_000; !asked(); await new Promise((r) => setTimeout(r, 50))) if (Date.now() > until || card.exitCode !== null) throw new Error('PulseAudio did not start.');

  const chunks: Buffer[] = [];
  const arrivals: Arrival[] = [];
  let bytes = 0;
  const ear = spawn('parec', ['--device=card.monitor', '--raw', '--format=s16le', `--rate=${RATE}`, '--channels=1', '--latency-msec=5'], { env, stdio: ['ignore', 'pipe', 'ignore'] });
  const first = new Promise<void>((resolve) => {
    ear.stdout.on('data', (data: Buffer) => {
      chunks.push(data);
      bytes += data.length;
      arrivals.push({ at: performance.timeOrigin + performance.now(), end: bytes >> 1 });
      resolve();
    });
  });
  await first;
  const ended = Promise.all([card, ear].map((p) => new Promise((resolve) => p.once('exit', resolve))));
  const close = async () => {
    ear.kill();
    card.kill();
    await ended;
  };
  closedLater('a sound card', close);
  return {
    server,
    heard() {
      const all = Buffer.concat(chunks);
      const samples = new Float32Array(all.length >> 1);
      for (let i = 0; i < samples.length; i++) samples[i] = all.readInt16LE(2 * i) / 32_768;
      return { rate: RATE, samples, sampleAt: sampleClock(arrivals, RATE) };
    },
    close,
  };
}
