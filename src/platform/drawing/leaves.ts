/**
 * Pages of PDF behind the pages of a note: rough at once, then as fine as they are seen, in pieces where a whole page would take too much room.
 * Their pixels share the room of the tiles.
 */
import type { Box } from '../../core/ink/stroke';
import type { Page } from '../../core/note/schema';
import { placeOnPage, type Backdrops } from './backdrops';
import type { Backdrop, Context } from './kindPainter';
import { bytesOfPixels, type PixelRoom } from './pixelRoom';

/** What gives the pages on the screen what lies behind them. */
export interface BackdropSource {
  of(user: object, page: Page, k: number): Backdrop | null;
  letGo(user: object): void;
}

/** Pictures and pages of PDF, whichever a page has. */
export const allBackdrops = (pictures: Backdrops, leaves: Leaves): BackdropSource => ({
  of: (user, page, k) => (page.backdrop?.leaf === undefined ? pictures : leaves).of(user, page, k),
  letGo(user) {
    pictures.letGo(user);
    leaves.letGo(user);
  },
});

/** A page of more pixels than this is drawn in pieces. */
const WHOLE_PX = 3e6;
/** Edge of a piece, px. */
const PIECE_PX = 1024;
/** The rough one has so many pixels; a page that has not many more is drawn once. */
const ROUGH_PX = 150e3;
/** So many wishes wait; older ones are forgotten, and come again with the next drawing. */
const WAITING = 24;

interface Piece {
  readonly bitmap: ImageBitmap;
  /** mm of the leaf. */
  readonly part: Box;
  drawn: number;
}

interface Entry {
  readonly hash: string;
  readonly leaf: number;
  readonly password: string | null;
  /** Who shows it, and how fine, px per mm of the leaf. */
  readonly users: Map<object, number>;
  size: { w: number; h: number } | null;
  rough: Piece | null;
  readonly fine: Map<string, Piece>;
  readonly asked: Set<string>;
  failed: boolean;
}

interface Wish {
  readonly entry: Entry;
  readonly key: string;
  readonly k: number;
  /** Null for its size. */
  readonly part: Box | null;
}

export interface LeafHost {
  size(hash: string, password: string | null, leaf: number): Promise<{ w: number; h: number }>;
  draw(hash: string, password: string | null, leaf: number, k: number, part: Box): Promise<ImageBitmap>;
  /** A part of it (mm of the page of the note) is there now, or finer than before. */
  came(hash: string, leaf: number): void;
  /** It cannot be shown: a clause. */
  failed(why: string): void;
}

export class Leaves implements BackdropSource {
  private readonly entries = new Map<string, Entry>();
  private waiting: Wish[] = [];
  private working = false;
  private granting = false;
  private turn = 0;

  constructor(
    private readonly room: PixelRoom,
    private readonly host: LeafHost,
  ) {}

  of(user: object, page: Page, k: number): Backdrop | null {
    const { content, leaf, password } = page.backdrop ?? {};
    if (content === undefined || leaf === undefined) return null;
    const name = `${content} ${leaf}`;
    let entry = this.entries.get(name);
    // With another password it is tried anew.
    if (entry && entry.password !== (password ?? null)) entry = undefined;
    if (!entry) this.entries.set(name, (entry = { hash: content, leaf, password: password ?? null, users: new Map(), size: null, rough: null, fine: new Map(), asked: new Set(), failed: false }));
    const it = entry;
    if (!it.size) {
      it.users.set(user, k);
      this.wish({ entry: it, key: 'size', k, part: null });
      return null;
    }
    const place = placeOnPage(it.size.w, it.size.h, page);
    // mm of the page to a mm of the leaf: 1 unless its sheet was changed.
    const times = (place[2] - place[0]) / it.size.w;
    it.users.set(user, k * times);
    return { draw: (ctx, part) => this.draw(ctx, it, k * times, place, times, part) };
  }

  private draw(ctx: Context, entry: Entry, k: number, place: Box, times: number, on: Box): void {
    const { w, h } = entry.size!;
    const part: Box = [Math.max(0, (on[0] - place[0]) / times), Math.max(0, (on[1] - place[1]) / times), Math.min(w, (on[2] - place[0]) / times), Math.min(h, (on[3] - place[1]) / times)];
    if (part[0] >= part[2] || part[1] >= part[3]) return;
    const wanted = this.piecesOf(entry, k, part);
    const there = wanted.filter(({ key }) => entry.fine.has(key));
    const paint = (piece: Piece): void => {
      piece.drawn = ++this.turn;
      const [l, t, r, b] = [Math.max(part[0], piece.part[0]), Math.max(part[1], piece.part[1]), Math.min(part[2], piece.part[2]), Math.min(part[3], piece.part[3])];
      if (l >= r || t >= b) return;
      const [px, py] = [piece.bitmap.width / (piece.part[2] - piece.part[0]), piece.bitmap.height / (piece.part[3] - piece.part[1])];
      ctx.imageSmoothingQuality = 'high';
      ctx.drawImage(piece.bitmap, (l - piece.part[0]) * px, (t - piece.part[1]) * py, (r - l) * px, (b - t) * py, place[0] + l * times, place[1] + t * times, (r - l) * times, (b - t) * times);
    };
    if (there.length < wanted.length) {
      if (entry.rough) paint(entry.rough);
      const rough = Math.sqrt(ROUGH_PX / (w * h));
      // Last asked is first drawn: the rough one comes before what is fine.
      for (const { key, part: of } of wanted) if (!entry.fine.has(key)) this.wish({ entry, key, k, part: of });
      if (!entry.rough && k > 1.5 * rough) this.wish({ entry, key: 'rough', k: rough, part: [0, 0, w, h] });
    }
    for (const { key } of there) paint(entry.fine.get(key)!);
  }

  /** The whole page, or the pieces of a grid that a part of it needs. */
  private piecesOf({ size }: Entry, k: number, part: Box): { key: string; part: Box }[] {
    const { w, h } = size!;
    const at = k.toFixed(4);
    if (w * h * k * k <= WHOLE_PX) return [{ key: at, part: [0, 0, w, h] }];
    const step = PIECE_PX / k;
    const out: { key: string; part: Box }[] = [];
    for (let r = Math.floor(part[1] / step); r * step < part[3]; r++) {
      for (let c = Math.floor(part[0] / step); c * step < part[2]; c++) out.push({ key: `${at} ${c} ${r}`, part: [c * step, r * step, Math.min(w, (c + 1) * step), Math.min(h, (r + 1) * step)] });
    }
    return out;
  }

  /** So many parts of pages are still to come. */
  get due(): number {
    return this.waiting.length + (this.granting ? 1 : 0);
  }

  letGo(user: object): void {
    for (const [name, entry] of this.entries) {
      if (!entry.users.delete(user) || entry.users.size) continue;
      for (const piece of [entry.rough, ...entry.fine.values()]) if (piece) this.free(piece);
      this.entries.delete(name);
      this.waiting = this.waiting.filter((wish) => wish.entry !== entry);
    }
  }

  private free({ bitmap }: Piece): void {
    this.room.free(bytesOfPixels(bitmap.width, bitmap.height));
    bitmap.close();
  }

  private wish(wish: Wish): void {
    const { entry, key } = wish;
    if (entry.failed || entry.asked.has(key)) return;
    entry.asked.add(key);
    this.waiting.push(wish);
    if (this.waiting.length > WAITING) {
      const forgotten = this.waiting.shift()!;
      forgotten.entry.asked.delete(forgotten.key);
    }
    if (!this.working) void this.work();
  }

  /** What was asked for last comes first, one after another: the hand has gone on to there. */
  private async work(): Promise<void> {
    this.working = true;
    for (let wish = this.waiting.pop(); wish; wish = this.waiting.pop()) await this.grant(wish);
    this.working = false;
  }

  private async grant({ entry, key, k, part }: Wish): Promise<void> {
    const { hash, leaf, password } = entry;
    const isWanted = () => this.entries.get(`${hash} ${leaf}`) === entry && (key === 'size' || key === 'rough' || [...entry.users.values()].some((u) => u.toFixed(4) === k.toFixed(4)));
    this.granting = true;
    try {
      if (!isWanted()) return;
      if (!part) entry.size = await this.host.size(hash, password, leaf);
      else {
        const bitmap = await this.host.draw(hash, password, leaf, k, part);
        if (!isWanted()) return bitmap.close();
        this.makeRoom(bytesOfPixels(bitmap.width, bitmap.height), entry, k);
        this.room.occupy(bytesOfPixels(bitmap.width, bitmap.height));
        const piece: Piece = { bitmap, part, drawn: ++this.turn };
        if (key === 'rough') entry.rough = piece;
        else entry.fine.set(key, piece);
      }
      this.granting = false;
      this.host.came(hash, leaf);
    } catch (e) {
      // Whoever stopped it knows.
      if (e instanceof DOMException && e.name === 'AbortError') return;
      entry.failed = true;
      this.host.failed(e instanceof Error ? e.message : String(e));
    } finally {
      this.granting = false;
      entry.asked.delete(key);
    }
  }

  /** Pieces of another fineness of the same page go at once; of others those that were not drawn for longest, until there is room. */
  private makeRoom(bytes: number, entry: Entry, k: number): void {
    const now = new Set([...entry.users.values(), k].map((u) => u.toFixed(4)));
    for (const [key, piece] of entry.fine) {
      if (now.has(key.split(' ')[0])) continue;
      this.free(piece);
      entry.fine.delete(key);
    }
    const all = [...this.entries.values()].flatMap((e) => [...e.fine].map(([key, piece]) => ({ e, key, piece }))).sort((a, b) => a.piece.drawn - b.piece.drawn);
    for (const { e, key, piece } of all) {
      if (this.room.left >= bytes) return;
      // What has just been drawn is in sight.
      if (piece.drawn > this.turn - LATELY) return;
      this.free(piece);
      e.fine.delete(key);
    }
  }
}

/** Drawings within which a piece counts as in sight. */
const LATELY = 60;
