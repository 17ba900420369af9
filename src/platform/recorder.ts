/**
 * The microphone of a take: asks for it, records Opus in parts, gives out packets in take time and keeps the clock.
 *
 * A fresh MediaRecorder serves each part (from Record or Resume to Pause or Stop), because its packet times are wall time from
 * its own start, also when sound was lost in between. See docs/decisions/0002-recording-clock.md.
 */
import { levelOf, MicrophoneWatch, type Level, type MicrophoneState } from '../core/audio/level';
import { opusDuration, type Packet } from '../core/audio/opus';
import { WebmStream } from '../core/formats/webmStream';
import { TakeClock } from '../core/time/clock';
import { MicrophoneError, microphoneSentence } from './microphoneErrors';

const MIME = 'audio/webm;codecs=opus';
const TIMESLICE_MS = 1000;
const LEVEL_EVERY_MS = 100;
/** The recorder runs on so long after Pause or Stop: 70 ms are on their way (core/time/clock.ts), and a packet has up to 60. */
const TAIL_MS = 135;
/** Without a packet for this long while recording, the microphone has died without a word, or the machine does not keep up. */
const STALL_MS = 3000;

export interface RecorderEvents {
  packets(packets: readonly Packet[]): void;
  level(level: Level, state: MicrophoneState): void;
  /** It records at this moment; told several times a second. */
  runs(): void;
  /** The microphone is gone or the recorder failed; what came before it has been given out. */
  broken(sentence: string): void;
}

/** What this browser lacks for recording, in a sentence, or null when nothing. */
function recordingObstacle(): string | null {
  if (!navigator.mediaDevices?.getUserMedia) {
    return window.isSecureContext
      ? 'This browser gives web pages no microphone. You can write and listen here; to record, open Scrivo in a current Chrome, Edge or Firefox.'
      : 'The microphone works only over a secure address (https or localhost). Open Scrivo there to record; writing and listening work here too.';
  }
  if (typeof MediaRecorder === 'undefined' || !MediaRecorder.isTypeSupported(MIME)) {
    return 'This browser cannot record Opus sound. You can write and listen here; to record, open Scrivo in a current Chrome, Edge or Firefox.';
  }
  return null;
}

export class Recorder {
  readonly clock = new TakeClock();
  private stream: MediaStream | null = null;
  private media: MediaRecorder | null = null;
  private part: { webm: WebmStream; at: number; end: number; reading: Promise<void> } | null = null;
  private context: AudioContext | null = null;
  private meter: ReturnType<typeof setInterval> | null = null;
  private lastPacket = 0;

  constructor(
    private readonly events: RecorderEvents,
    private readonly bitsPerSecond = 32_000,
  ) {}

  /** Asks for the microphone and records. @throws MicrophoneError with a sentence for the user. */
  async start(): Promise<void> {
    const obstacle = recordingObstacle();
    if (obstacle) throw new MicrophoneError(obstacle);
    try {
      // The room as it is: the browser's telephone filters would swallow a quiet lecturer and smear the time.
      this.stream = await navigator.mediaDevices.getUserMedia({
        audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false, channelCount: { ideal: 1 } },
      });
    } catch (e) {
      throw new MicrophoneError(microphoneSentence(e));
    }
    for (const track of this.stream.getAudioTracks()) {
      track.addEventListener('ended', () => {
        void this.breakOff('The microphone was disconnected, so the recording has stopped. Everything up to then is kept. Connect it again and press Record to go on in a new take.');
      });
    }
    try {
      this.watchLevel(this.stream);
      this.beginPart();
    } catch (e) {
      // A microphone that was granted and is not used must not stay on.
      this.release();
      throw e;
    }
  }

  private beginPart(): void {
    const webm = new WebmStream();
    const part = { webm, at: this.clock.length, end: 0, reading: Promise.resolve() };
    const media = new MediaRecorder(this.stream!, { mimeType: MIME, audioBitsPerSecond: this.bitsPerSecond });
    media.ondataavailable = (e) => {
      // What is flushed at the end comes sooner than other sound and tells nothing about the clock.
      const came = media.state === 'recording' ? performance.now() : null;
      // Blobs are read in the order they came, whatever order their reading ends in.
      part.reading = part.reading.then(async () => this.received(part, new Uint8Array(await e.data.arrayBuffer()), came)).catch((error: unknown) => this.fail(error));
    };
    media.onerror = (e) => this.fail((e as Event & { error?: unknown }).error ?? e);
    this.media = media;
    this.part = part;
    this.lastPacket = performance.now();
    const before = performance.now();
    media.start(TIMESLICE_MS);
    this.clock.begin(before);
  }

  private fail(error: unknown): void {
    const detail = error instanceof Error ? error.message : 'unknown reason';
    void this.breakOff(`The recorder stopped by itself (${detail}). Everything up to then is kept. Press Record to go on in a new take.`);
  }

  private received(part: NonNullable<Recorder['part']>, bytes: Uint8Array, came: number | null): void {
    const raw = part.webm.push(bytes);
    if (!raw.length) return;
    this.lastPacket = performance.now();
    const last = raw[raw.length - 1];
    part.end = last.t + opusDuration(last.data);
    if (came !== null && part === this.part) this.clock.came(came, part.end, opusDuration(last.data));
    this.events.packets(raw.map((p) => ({ t: part.at + p.t, data: p.data })));
  }

  private async endPart(): Promise<void> {
    const { media, part } = this;
    if (!media || !part) return;
    this.media = null;
    this.clock.stopping(performance.now());
    if (media.state !== 'inactive') {
      // What is on its way when the button is pressed, and a packet that is not full yet, would not be given out.
      await new Promise((resolve) => setTimeout(resolve, TAIL_MS));
    }
    if (media.state !== 'inactive') {
      const stopped = new Promise<void>((resolve) => media.addEventListener('stop', () => resolve(), { once: true }));
      media.stop();
      await stopped;
    }
    await part.reading;
    this.clock.end(part.end);
    this.part = null;
  }

  /** The part's sound is complete when this resolves. */
  pause(): Promise<void> {
    return this.endPart();
  }

  resume(): void {
    if (!this.stream || this.media) return;
    this.beginPart();
  }

  async stop(): Promise<void> {
    await this.endPart();
    this.release();
  }

  private async breakOff(sentence: string): Promise<void> {
    if (!this.stream) return;
    const stream = this.stream;
    this.stream = null;
    try {
      await this.endPart();
    } finally {
      this.stream = stream;
      this.release();
      this.events.broken(sentence);
    }
  }

  private release(): void {
    if (this.meter) clearInterval(this.meter);
    this.meter = null;
    for (const track of this.stream?.getTracks() ?? []) track.stop();
    this.stream = null;
    this.context?.close().catch(() => undefined);
    this.context = null;
  }

  private watchLevel(stream: MediaStream): void {
    const context = new AudioContext();
    const analyser = context.createAnalyser();
    analyser.fftSize = 4096;
    context.createMediaStreamSource(stream).connect(analyser);
    const samples = new Float32Array(analyser.fftSize);
    const watch = new MicrophoneWatch();
    this.context = context;
    this.meter = setInterval(() => {
      if (!this.media) return;
      const now = performance.now();
      this.events.runs();
      if (now - this.lastPacket > STALL_MS) {
        this.events.level({ peak: 0, rms: -Infinity }, 'none');
        return;
      }
      if (context.state !== 'running') {
        void context.resume();
        return;
      }
      analyser.getFloatTimeDomainData(samples);
      const level = levelOf(samples);
      this.events.level(level, watch.add(level, now));
    }, LEVEL_EVERY_MS);
  }
}
