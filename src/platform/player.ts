/**
 * Plays a timeline: an audio element fed through MediaSource with just the pieces around the position, whatever the length of
 * the note. Each packet is put at its own time on the timeline, so a seek lands where the clock says.
 */
import { PIECE_MS, pieceOf } from '../core/audio/pieces';
import type { Packet } from '../core/audio/opus';
import type { Span } from '../core/audio/speech';
import { positionAfter, timelineLength, type Timeline } from '../core/time/timeline';
import { fillHoles, opusHead, webmOf } from '../core/formats/webmFile';

const MIME = 'audio/webm; codecs="opus"';
/** Sound kept ready ahead of the position, ms of timeline at normal speed. */
const AHEAD_MS = 25_000;
const BEHIND_MS = 60_000;
/** So much sound, ms of listening, lasts until the sound of a jump has begun; what comes after it waits until then. */
const ENOUGH_MS = 1500;
/** A jump is made when its place is this near, ms of listening. */
const HOP_NEAR_MS = 12;

/**
 * What keeps the pitch begins with sound from a little before the place asked for: 33 ms of sound at 2x, measured by
 * tests/browser/promise.spec.ts (32 to 37 ms between 1x and 2x over four runs). Taken as even in time of listening at other speeds.
 */
const pitchLate = (speed: number): number => (speed === 1 ? 0 : 16.5 * speed);

export type PieceReader = (take: string, pieces: readonly number[]) => Promise<readonly (readonly Packet[])[]>;

/** One piece of one stretch, with its place on the timeline in ms. */
interface Unit {
  take: string;
  piece: number;
  from: number;
  to: number;
  /** Timeline time minus take time. */
  shift: number;
  stretchFrom: number;
  stretchTo: number;
}

export interface PlayerState {
  readonly playing: boolean;
  /** The sound at the position is being fetched. */
  readonly waiting: boolean;
}

export const playingObstacle = (): string | null =>
  typeof MediaSource !== 'undefined' && MediaSource.isTypeSupported(MIME)
    ? null
    : 'This browser cannot play Opus sound in pieces. Open Scrivo in a current Chrome, Edge or Firefox to listen; your notes are kept in this one, and can be handed over as files.';

export class Player {
  readonly audio: HTMLAudioElement;
  private media: MediaSource | null = null;
  private buffer: SourceBuffer | null = null;
  private timeline: Timeline = [];
  private units: Unit[] = [];
  private length = 0;
  private appended = new Set<number>();
  private work: Promise<void> = Promise.resolve();
  private epoch = 0;
  private target: number | null = null;
  /** A piece that is likely wanted next, on its way from storage. */
  private ready: { unit: Unit; packets: ReturnType<PieceReader> } | null = null;
  private wanted = false;
  /** Stretches that are jumped over, ascending, and one that plays again and again, ms. */
  private skips: readonly Span[] = [];
  private repeat: Span | null = null;
  /** Where the user went last, ms. */
  private sought = 0;
  /** Where the element was set last, s. */
  private landed = -1;
  /** Where sound is made louder on its way out; none until that is asked for. */
  private louder: { readonly context: AudioContext; readonly gain: GainNode } | null = null;
  private hopTimer: ReturnType<typeof setTimeout> | undefined;
  onState: (state: PlayerState) => void = () => undefined;
  onError: (sentence: string) => void = () => undefined;

  constructor(private readonly read: PieceReader) {
    this.audio = document.createElement('audio');
    this.audio.setAttribute('data-scrivo', 'player');
    this.audio.preservesPitch = true;
    this.audio.hidden = true;
    document.body.append(this.audio);
    for (const name of ['playing', 'pause', 'waiting', 'seeked'] as const) this.audio.addEventListener(name, this.changed);
    this.audio.addEventListener('ended', () => {
      if (this.repeat && this.sought < this.repeat.to) return this.seek(this.repeat.from);
      this.wanted = false;
      this.changed();
    });
    this.audio.addEventListener('timeupdate', this.feed);
    for (const name of ['playing', 'seeked', 'timeupdate', 'ratechange'] as const) this.audio.addEventListener(name, this.planHop);
    this.audio.addEventListener('waiting', this.overHole);
    this.audio.addEventListener('error', () => {
      // An emptied source reports an error too; only one that happens in use is the user's.
      if (this.audio.error && this.media) this.onError('The sound at this place cannot be played. Move on a little and press Play again; the rest of the take is not affected.');
    });
  }

  /** Stays at the moment it is at, or at what is heard next where that was cut away. */
  setTimeline(timeline: Timeline): void {
    const at = this.timeline.length ? positionAfter(this.timeline, timeline, this.position) : this.position;
    this.timeline = timeline;
    this.epoch++;
    this.units = unitsOf(timeline);
    this.length = timelineLength(timeline);
    this.appended.clear();
    this.buffer = null;
    if (this.audio.src) URL.revokeObjectURL(this.audio.src);
    if (!this.units.length || playingObstacle()) {
      this.media = null;
      this.audio.removeAttribute('src');
      this.audio.load();
      return;
    }
    const media = new MediaSource();
    this.media = media;
    const rate = this.audio.defaultPlaybackRate;
    this.audio.src = URL.createObjectURL(media);
    this.audio.playbackRate = rate;
    const epoch = this.epoch;
    this.work = new Promise<void>((resolve) => media.addEventListener('sourceopen', () => resolve(), { once: true })).then(() => {
      if (epoch !== this.epoch) return;
      this.buffer = media.addSourceBuffer(MIME);
      media.duration = this.length / 1000;
    });
    this.seek(Math.min(at, this.length));
  }

  get position(): number {
    return this.target ?? this.audio.currentTime * 1000;
  }

  get state(): PlayerState {
    return { playing: this.wanted, waiting: this.target !== null };
  }

  /** Makes quiet voices louder by so many dB; loud ones are held back, so that nothing is cut off. 0 leaves the sound as it is. */
  setGain(db: number): void {
    if (!this.louder) {
      if (db === 0) return;
      const context = new AudioContext();
      const gain = context.createGain();
      const limit = new DynamicsCompressorNode(context, { threshold: -6, knee: 6, ratio: 12, attack: 0.003, release: 0.2 });
      context.createMediaElementSource(this.audio).connect(gain).connect(limit).connect(context.destination);
      this.louder = { context, gain };
    }
    const { context, gain } = this.louder;
    gain.gain.value = 10 ** (db / 20);
    // A context that was made before the first touch waits for one.
    void context.resume().catch(() => undefined);
  }

  setSpeed(speed: number): void {
    this.audio.defaultPlaybackRate = speed;
    this.audio.playbackRate = speed;
  }

  /** Stretches that are jumped over while playing, ascending, ms. */
  setSkips(skips: readonly Span[]): void {
    this.skips = skips;
    this.planHop();
  }

  /** A stretch that plays again and again until it is let go with null. */
  setRepeat(span: Span | null): void {
    this.repeat = span;
    this.planHop();
  }

  /** The next place to jump from, and to, as things stand; null when there is none ahead. */
  private nextHop(at: number): { from: number; to: number } | null {
    const { repeat } = this;
    // Also when its end has been missed, because a busy page was late; but not for whoever went past it.
    if (repeat && this.sought < repeat.to) return { from: Math.min(repeat.to, this.length - 30), to: repeat.from };
    // Whoever goes to a place in a pause means that place: it is played, and the next pause is skipped.
    return this.skips.find((k) => k.to > at + 1 && !(k.from < this.sought && this.sought < k.to)) ?? null;
  }

  /** `timeupdate` comes four times a second, which is too coarse to leave a sentence at its end: the jump has a timer of its own. */
  private planHop = (): void => {
    clearTimeout(this.hopTimer);
    if (!this.wanted || this.target !== null || this.audio.paused) return;
    const at = this.position;
    const hop = this.nextHop(at);
    if (!hop) return;
    const wait = (hop.from - at) / this.audio.playbackRate;
    if (wait > HOP_NEAR_MS) this.hopTimer = setTimeout(this.planHop, Math.max(1, Math.min(1000, wait - HOP_NEAR_MS / 2)));
    else this.hop(hop.to);
  };

  /** Goes on from another place without a stop where its sound is ready. */
  private hop(to: number): void {
    if (to >= this.length - 1) {
      this.pause();
      this.seek(this.length - 1);
      return;
    }
    const seconds = (to + pitchLate(this.audio.playbackRate)) / 1000;
    if (this.sounding(seconds) === seconds) this.audio.currentTime = seconds;
    else this.seek(to);
  }

  seek(ms: number): void {
    this.target = Math.min(Math.max(0, ms), Math.max(0, this.length - 1));
    this.sought = this.target;
    this.audio.pause();
    this.fill();
  }

  /** Begins to read the sound at a place that may be sought next. */
  makeReady(ms: number): void {
    const unit = this.units.find((u) => ms < u.to);
    if (!unit || this.appended.has(this.units.indexOf(unit)) || this.ready?.unit === unit) return;
    const packets = this.read(unit.take, [unit.piece]);
    // A failure is told when the sound is asked for in earnest.
    packets.catch(() => undefined);
    this.ready = { unit, packets };
  }

  play(): void {
    if (!this.units.length) return;
    this.wanted = true;
    if (this.target === null && this.position >= this.length - 50) this.seek(0);
    this.start();
    this.changed();
  }

  pause(): void {
    this.wanted = false;
    this.audio.pause();
    this.changed();
  }

  private start(): void {
    if (this.target !== null || !this.wanted) return;
    this.audio.play().catch((e: unknown) => {
      // A pause or a seek that comes before the sound does breaks the promise, and is no fault.
      if (e instanceof DOMException && e.name === 'AbortError') return;
      this.wanted = false;
      this.changed();
      this.onError('The browser did not start the sound. Press Play.');
    });
  }

  private changed = (): void => this.onState(this.state);

  private feed = (): void => {
    if (this.target === null && this.audio.currentTime !== this.landed) this.fill();
  };

  /** A hole of a few ms between pieces can hold the element up; it is stepped over. */
  private overHole = (): void => {
    const t = this.audio.currentTime;
    const next = this.sounding(t);
    if (next > t) this.audio.currentTime = next;
  };

  /** The time itself where sound is ready, else the next moment within half a second where it is, in s. */
  private sounding(t: number): number {
    const b = this.audio.buffered;
    let next = t;
    for (let i = 0; i < b.length; i++) {
      if (b.start(i) <= t && t < b.end(i)) return t;
      if (b.start(i) > t && b.start(i) - t < 0.5 && (next === t || b.start(i) < next)) next = b.start(i) + 0.001;
    }
    return next;
  }

  private fill(): void {
    const epoch = this.epoch;
    this.work = this.work
      .then(() => this.fillNow(epoch))
      .catch((e: unknown) => {
        if (epoch !== this.epoch) return;
        this.wanted = false;
        this.changed();
        this.onError(`The sound could not be read from this device (${e instanceof Error ? e.message : 'unknown reason'}). Try again; the recording itself was not touched.`);
      });
  }

  private async fillNow(epoch: number): Promise<void> {
    const stale = () => epoch !== this.epoch || !this.buffer || !this.media;
    if (stale()) return;
    const at = this.position;
    let k = this.units.findIndex((u) => at < u.to);
    if (k < 0) k = this.units.length - 1;
    const ahead = AHEAD_MS * Math.max(1, this.audio.playbackRate);
    let end = k;
    while (end + 1 < this.units.length && this.units[end + 1].from < at + ahead) end++;

    // A seek is served with the piece it lands in; what lies further ahead comes while that plays.
    const seeking = this.target;
    if (seeking !== null) {
      end = this.units[k].to - seeking < 500 ? Math.min(end, k + 1) : k;
      // The packet that is heard at the very start of a piece began in the piece before.
      if (k > 0 && seeking - this.units[k].from < 130) k--;
    }
    for (let i = k; i <= end; i++) {
      if (this.appended.has(i)) continue;
      await this.append(this.units[i]);
      if (stale()) return;
      this.appended.add(i);
      // Whoever touches another word does not wait for sound that is not wanted any more.
      if (this.target !== seeking) return;
    }
    if (this.appended.has(this.units.length - 1) && this.media!.readyState === 'open') this.media!.endOfStream();
    if (seeking !== null) {
      this.target = null;
      this.landed = this.sounding(Math.min(this.length - 1, seeking + pitchLate(this.audio.playbackRate)) / 1000);
      this.audio.currentTime = this.landed;
      this.start();
      this.changed();
      // Reading on at once would hold up the sound that was asked for: `timeupdate` sees to it when that goes out.
      if (!this.wanted || this.units[end].to - seeking < ENOUGH_MS * this.audio.playbackRate) this.fill();
    } else await this.evict(at);
  }

  private async append(unit: Unit): Promise<void> {
    const ready = this.ready?.unit === unit ? this.ready.packets : null;
    this.ready = null;
    const [packets] = await (ready ?? this.read(unit.take, [unit.piece]));
    // The packets of the next piece begin at its start or later, so silence may reach up to there; before the first packet the
    // last one of the piece before may still sound.
    const [start, end] = [unit.piece * PIECE_MS, Math.min((unit.piece + 1) * PIECE_MS, unit.stretchTo)];
    const filled = fillHoles(packets, packets.length && packets[0].t - start < 130 ? packets[0].t : start, end);
    const placed = filled.filter((p) => p.t >= unit.stretchFrom - 60 && p.t < unit.stretchTo).map((p) => ({ t: p.t + unit.shift, data: p.data }));
    const inside = placed.filter((p) => p.t >= 0);
    if (!inside.length || !this.buffer) return;
    const bytes = await webmOf(inside, opusHead(2));
    const buffer = this.buffer;
    if (!buffer) return;
    await updated(buffer);
    buffer.appendWindowStart = 0;
    buffer.appendWindowEnd = (unit.stretchTo + unit.shift) / 1000;
    buffer.appendWindowStart = (unit.stretchFrom + unit.shift) / 1000;
    buffer.appendBuffer(bytes as Uint8Array<ArrayBuffer>);
    await updated(buffer);
  }

  private async evict(at: number): Promise<void> {
    const gone = [...this.appended].filter((i) => this.units[i].to < at - BEHIND_MS || this.units[i].from > at + 8 * AHEAD_MS);
    if (gone.length < 6 || !this.buffer) return;
    for (const i of gone) {
      this.buffer.remove(this.units[i].from / 1000, this.units[i].to / 1000);
      await updated(this.buffer);
      this.appended.delete(i);
    }
  }

  destroy(): void {
    clearTimeout(this.hopTimer);
    this.epoch++;
    this.wanted = false;
    this.media = null;
    this.buffer = null;
    this.audio.pause();
    if (this.audio.src) URL.revokeObjectURL(this.audio.src);
    this.audio.removeAttribute('src');
    this.audio.remove();
    // A page may have only so many; one left behind by each note would end them.
    void this.louder?.context.close().catch(() => undefined);
    this.louder = null;
  }
}

function updated(buffer: SourceBuffer): Promise<void> {
  if (!buffer.updating) return Promise.resolve();
  return new Promise((resolve, reject) => {
    buffer.addEventListener('updateend', () => resolve(), { once: true });
    buffer.addEventListener('error', () => reject(new Error('the piece is damaged')), { once: true });
  });
}

function unitsOf(timeline: Timeline): Unit[] {
  const units: Unit[] = [];
  let start = 0;
  for (const s of timeline) {
    const shift = start - s.from;
    for (let piece = pieceOf(s.from); piece * PIECE_MS < s.to; piece++) {
      const from = Math.max(s.from, piece * PIECE_MS) + shift;
      const to = Math.min(s.to, (piece + 1) * PIECE_MS) + shift;
      units.push({ take: s.take, piece, from, to, shift, stretchFrom: s.from, stretchTo: s.to });
    }
    start += s.to - s.from;
  }
  return units;
}
