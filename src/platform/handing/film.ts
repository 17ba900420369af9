/** The film of a note: its pages as they were written, with what was said. In the worker that makes files. */
import { AudioSample, AudioSampleSource, CanvasSource, canEncodeVideo, EncodedAudioPacketSource, EncodedPacket, Mp4OutputFormat, WebMOutputFormat, type AudioSource, type VideoCodec } from 'mediabunny';
import { Stretch } from '@soundtouchjs/core';
import { opusDuration, type Packet } from '../../core/audio/opus';
import { Camera, Course } from '../../core/film/course';
import { outputToBlob, wholePortions, type Portions } from '../../core/formats/webmFile';
import { lettersBy, Replay, writtenBy, type Timed } from '../../core/ink/replay';
import { draftStroke } from '../../core/ink/stroke';
import { coveredBy, inSight, isStroke, liesOnTop, type Placed } from '../../core/note/kinds/kinds';
import type { Picture } from '../../core/note/kinds/picture';
import { A4, type Page } from '../../core/note/schema';
import { backdropOf } from '../drawing/backdrops';
import { bitmapsOf } from '../drawing/bitmaps';
import type { Backdrop } from '../drawing/kindPainter';
import { LIGHT_PAGE } from '../drawing/pageLook';
import { paintPage } from '../drawing/pagePainter';
import { facesOf } from '../drawing/typedFaces';
import { PlacedPainter } from '../drawing/placedPainter';
import { decodeAll, RATE } from './decoding';
import type { FilmPlan, FilmSources, HandingWork } from './handingWork';

/** Frames a second while something moves: as many as one follows a pen by. */
const FPS = 15;
/** Where nothing moves, a frame every so often all the same: players that jump find it. ms. */
const STILL_MS = 2000;
/** Frames between two words of how far it is. */
const TOLD_EVERY = 30;
/** A key frame at least so often, s. */
const KEY_S = 10;
/** Bits per second, px by px: handwriting on paper changes little from frame to frame. */
const BITS_PER_PX = 0.22;
/** Of speech whose speed was changed, bits per second. */
const SOUND_BITRATE = 32_000;
/** A page is drawn no larger than this, px. */
const LARGEST_PX = 8000;
const CODECS: Readonly<Record<FilmPlan['as'], readonly VideoCodec[]>> = { mp4: ['avc', 'vp9', 'av1'], webm: ['vp9', 'av1', 'vp8'] };

type Sheet = OffscreenCanvas;

/** Draws the page that is being written, ink by ink. */
class Projector {
  readonly canvas: OffscreenCanvas;
  private readonly ctx: OffscreenCanvasRenderingContext2D;
  private readonly replay: Replay;
  private readonly camera: Camera;
  private page: Page | null = null;
  private sheet: Sheet | null = null;
  private k = 1;
  private backdrop: Backdrop | null = null;
  private bitmap: ImageBitmap | null = null;
  private pictures = new Map<Picture, Backdrop>();
  private painter = new PlacedPainter(() => LIGHT_PAGE);
  private last = 0;
  private begun: readonly Timed[] = [];

  constructor(
    private readonly plan: FilmPlan,
    private readonly sources: Pick<FilmSources, 'backdrop' | 'content'>,
  ) {
    this.canvas = new OffscreenCanvas(plan.w, plan.h);
    // Read back by the encoder, frame by frame.
    this.ctx = this.canvas.getContext('2d', { alpha: false, willReadFrequently: true })!;
    this.replay = new Replay(plan.ink, plan.timeline);
    this.camera = new Camera(plan, plan);
  }

  /** What is seen at a moment of the timeline, later than the one before. True when it is not what was seen. */
  async show(at: number): Promise<boolean> {
    const by = this.replay.lastBy(at);
    const page = this.plan.pages.find((p) => p.id === by?.page) ?? this.page ?? this.plan.pages[0];
    const turned = page !== this.page;
    if (turned) await this.turnTo(page, at);
    const changed = turned ? [] : this.replay.changed(this.last, at).filter(({ placed }) => placed.page === page.id);
    const wasBegun = this.begun.length > 0;
    for (const it of changed) if (it.to <= at) this.finish(it.placed, at);
    this.begun = this.replay.begunAt(at).filter(({ placed }) => placed.page === page.id);
    this.last = at;
    const newest = changed.at(-1)?.placed ?? (turned ? by : null);
    if (newest?.page === page.id) {
      const [l, t, r, b] = newest.box.map((v) => v * this.k);
      this.camera.follow([l, t, r, b], turned);
    }
    const moved = this.camera.step();
    if (!turned && !changed.length && !wasBegun && !this.begun.length && !moved) return false;
    this.draw(at);
    return true;
  }

  private async turnTo(page: Page, at: number): Promise<void> {
    const { w, h, view } = this.plan;
    this.page = page;
    // Of a board no more than the width of a sheet is seen at a time.
    const wide = page.ruled ? Math.min(page.w, A4.w) : page.w;
    this.k = Math.min(view === 'line' ? w / wide : Math.min(w / page.w, h / page.h), LARGEST_PX / Math.max(page.w, page.h));
    this.bitmap?.close();
    this.bitmap = page.backdrop ? await this.sources.backdrop(page.id, this.k) : null;
    this.backdrop = this.bitmap && backdropOf(this.bitmap, page);
    const all = this.plan.ink[page.id] ?? [];
    this.pictures = await bitmapsOf(all, this.k, this.sources.content);
    await facesOf(all);
    this.painter = new PlacedPainter(() => LIGHT_PAGE, (it) => this.pictures.get(it) ?? null);
    // The pixels of the page before go at once, and not when the browser finds the time.
    if (this.sheet) this.sheet.width = this.sheet.height = 0;
    this.sheet = new OffscreenCanvas(Math.max(1, Math.round(page.w * this.k)), Math.max(1, Math.round(page.h * this.k)));
    this.camera.turnTo({ w: this.sheet.width, h: this.sheet.height });
    this.paint([0, 0, page.w, page.h], at);
  }

  /** A part of the page anew, with what is whole at that moment. */
  private paint(part: Parameters<typeof paintPage>[1]['part'], at: number): void {
    const page = this.page!;
    const ctx = this.sheet!.getContext('2d')!;
    ctx.setTransform(this.k, 0, 0, this.k, 0, 0);
    ctx.save();
    ctx.beginPath();
    ctx.rect(part[0], part[1], part[2] - part[0], part[3] - part[1]);
    ctx.clip();
    const placed = inSight(this.plan.ink[page.id] ?? []).filter((it) => this.replay.stateAt(it, at) === 'whole' && meets(it, part));
    paintPage(ctx, { page, placed, part, k: this.k, look: LIGHT_PAGE, painter: this.painter, backdrop: this.backdrop });
    ctx.restore();
  }

  /** Something is written to its end. */
  private finish(it: Placed, at: number): void {
    if (!liesOnTop(it, this.plan.ink[it.page] ?? [])) return this.paint(coveredBy(it), at);
    const ctx = this.sheet!.getContext('2d')!;
    ctx.setTransform(this.k, 0, 0, this.k, 0, 0);
    this.painter.one(ctx, it);
    ctx.globalAlpha = 1;
  }

  private draw(at: number): void {
    const { ctx, sheet } = this;
    const [x, y] = this.camera.place;
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.globalAlpha = 1;
    if (sheet!.width < this.plan.w || sheet!.height < this.plan.h) {
      ctx.fillStyle = this.plan.desk;
      ctx.fillRect(0, 0, this.plan.w, this.plan.h);
    }
    ctx.drawImage(sheet!, x, y);
    ctx.setTransform(this.k, 0, 0, this.k, x, y);
    const passing = new PlacedPainter(() => LIGHT_PAGE);
    for (const it of this.begun) {
      const points = writtenBy(it, at);
      if (points && isStroke(it.placed)) passing.one(ctx, draftStroke(it.placed, points, it.placed.id));
      else if (it.placed.kind === 'typed') passing.typed.part(ctx, this.k, it.placed, 1, lettersBy(it, at));
    }
  }
}

const meets = (it: Placed, [l, t, r, b]: readonly number[]): boolean => {
  const box = coveredBy(it);
  return box[0] <= r && box[2] >= l && box[1] <= b && box[3] >= t;
};

/** Sound as it goes into the film, up to a moment of it. */
interface Track {
  readonly source: AudioSource;
  /** All of it before `until`, ms of the film. */
  upTo(until: number): Promise<void>;
}

/** Packets as they are. */
function passed(next: Portions, head: Uint8Array): Track {
  const source = new EncodedAudioPacketSource('opus');
  const meta = { decoderConfig: { codec: 'opus', numberOfChannels: head[9], sampleRate: RATE, description: head } };
  const whole = wholePortions(next);
  let packets: readonly Packet[] | null = [];
  let i = 0;
  return {
    source,
    async upTo(until) {
      while (packets) {
        if (i === packets.length) {
          [packets, i] = [await whole(), 0];
          continue;
        }
        const p = packets[i];
        if (p.t >= until) return;
        i++;
        await source.add(new EncodedPacket(p.data, 'key', p.t / 1000, opusDuration(p.data) / 1000), meta);
      }
    },
  };
}

/** So much sound is stretched at a time, samples. */
const PORTION = 24_000;

/** Runs of sound that are kept as they are, where the next may begin, and how they are blended: short, as for speech, so that no syllable is lost at 2×. ms. */
const [SEQUENCE_MS, SEEK_MS, OVERLAP_MS] = [24, 10, 6];

/** Faster or slower, at the pitch it had. All of it is encoded at the first call: the decoder cannot be held up for long. */
function stretched(next: Portions, head: Uint8Array, speed: number): Track {
  const source = new AudioSampleSource({ codec: 'opus', bitrate: SOUND_BITRATE });
  const stretch = new Stretch({ sampleRate: RATE, createBuffers: true });
  stretch.setParameters(RATE, SEQUENCE_MS, SEEK_MS, OVERLAP_MS);
  stretch.tempo = speed;
  let [given, got, due] = [0, 0, Infinity];
  let done = false;
  const taken = async (): Promise<void> => {
    stretch.process();
    const output = stretch.outputBuffer!;
    while (output.frameCount > 0 && got < due) {
      const n = Math.min(PORTION, output.frameCount, due - got);
      const both = new Float32Array(2 * n);
      output.extract(both, 0, n);
      output.receive(n);
      // Both channels are the same where there was one.
      const sample = new AudioSample({ format: 'f32', sampleRate: RATE, numberOfChannels: 2, timestamp: got / RATE, data: both });
      got += n;
      await source.add(sample);
      sample.close();
    }
  };
  const put = async (both: Float32Array): Promise<void> => {
    stretch.inputBuffer!.putSamples(both);
    await taken();
  };
  return {
    source,
    async upTo() {
      if (done) return;
      done = true;
      await decodeAll(next, head, async ({ planes, frames, channels }) => {
        const both = new Float32Array(2 * frames);
        const right = channels > 1 ? frames : 0;
        for (let i = 0; i < frames; i++) [both[2 * i], both[2 * i + 1]] = [planes[i], planes[right + i]];
        given += frames;
        await put(both);
      });
      // It works by windows: silence pushes the last of them out.
      due = Math.round(given / speed);
      while (got < due) await put(new Float32Array(2 * PORTION));
    },
  };
}

/** @throws Error with a clause that says why it cannot be made */
export const filmOf: HandingWork['film'] = async (plan, backdrop, content, sound, head, progress) => {
  const { w, h, as, kept, speed } = plan;
  const bitrate = Math.round(w * h * BITS_PER_PX);
  let codec: VideoCodec | null = null;
  for (const c of CODECS[as]) if (!codec && (await canEncodeVideo(c, { width: w, height: h, bitrate }))) codec = c;
  if (!codec) throw new Error(`this browser cannot make films as ${as === 'mp4' ? 'MP4; choose WebM' : 'WebM; choose MP4'}`);
  const course = new Course(kept, speed);
  const projector = new Projector(plan, { backdrop, content });
  const { output, blob } = outputToBlob(as === 'mp4' ? new Mp4OutputFormat({ fastStart: false }) : new WebMOutputFormat());
  output.setMetadataTags({ title: plan.title, date: new Date(plan.date) });
  const video = new CanvasSource(projector.canvas, { codec, bitrate, keyFrameInterval: KEY_S, latencyMode: 'realtime' });
  output.addVideoTrack(video, { frameRate: FPS });
  const track = speed === 1 ? passed(sound, head) : stretched(sound, head, speed);
  output.addAudioTrack(track.source);
  await output.start();
  const step = 1000 / FPS;
  const frames = Math.max(1, Math.round(course.length / step));
  let shown = -Infinity;
  for (let i = 0; i < frames; i++) {
    const t = i * step;
    if (i % TOLD_EVERY === 0) await progress(t / course.length);
    const isNew = await projector.show(course.at(t));
    // The last one holds to the end of what is heard.
    if (!isNew && t - shown < STILL_MS && i < frames - 1) continue;
    await track.upTo(t);
    await video.add(t / 1000, step / 1000);
    shown = t;
  }
  await track.upTo(Infinity);
  await output.finalize();
  return blob();
};
