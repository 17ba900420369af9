/** The sound of one take on disk, written while it is recorded. */
import { packetsEnd, pieceOf, readPiece, writePiece } from '../core/audio/pieces';
import type { Packet } from '../core/audio/opus';
import type { Remains } from '../core/note/takes';
import { RecordError } from '../core/record';
import { keys, keysStarting, readMany, removeOwned, soundDb } from './databases';
import { RetryingWriter, type SaveState } from './retryingWriter';

/** A growing piece is written again this often, ms: more would be lost in a crash, less would wear the disk. */
const WRITE_EVERY_MS = 1000;
/** While a take runs it is written down this often that it does, ms: after a crash it can be said how much of its sound was lost. */
const BEAT_EVERY_MS = 1000;

export class SoundFile {
  private pieces = new Map<number, Packet[]>();
  private dirty = new Set<number>();
  private lastWrite = -Infinity;
  private lastBeat = -Infinity;
  private beating: Promise<unknown> = Promise.resolve();
  private readonly writer = new RetryingWriter(WRITE_EVERY_MS, () => this.write(), () => this.dirty.size > 0);

  constructor(readonly take: string) {}

  set onState(told: (state: SaveState, error?: unknown) => void) {
    this.writer.onState = told;
  }

  /** Packets with take times, in order. */
  add(packets: readonly Packet[]): void {
    for (const packet of packets) {
      const piece = pieceOf(packet.t);
      const list = this.pieces.get(piece);
      if (list) list.push(packet);
      else this.pieces.set(piece, [packet]);
      this.dirty.add(piece);
    }
    if (this.dirty.size) this.writer.schedule(Math.max(0, WRITE_EVERY_MS - 100 - (Date.now() - this.lastWrite)));
  }

  /** The take runs at this moment, by the wall clock, ms. Called as often as one likes. */
  beat(now: number): void {
    if (now - this.lastBeat < BEAT_EVERY_MS && now >= this.lastBeat) return;
    this.lastBeat = now;
    // It is no more than a hint: when the disk is full or locked the sound itself says so.
    this.beating = this.beating.then(() => soundDb().setItem(keys.beat(this.take), String(now))).catch(() => undefined);
  }

  /** The take has ended as it should. */
  async ended(): Promise<void> {
    await this.beating;
    await soundDb().removeMany([keys.beat(this.take)]).catch(() => undefined);
  }

  /** @throws what storage throws; the pieces are kept and tried again. */
  flush(): Promise<void> {
    return this.writer.flush();
  }

  private async write(): Promise<void> {
    const dirty = [...this.dirty].sort((a, b) => a - b);
    this.dirty.clear();
    this.lastWrite = Date.now();
    try {
      for (let i = 0; i < dirty.length; i += 32) {
        const entries: Record<string, string> = {};
        for (const piece of dirty.slice(i, i + 32)) entries[keys.piece(this.take, piece)] = writePiece(this.pieces.get(piece)!);
        await soundDb().setMany(entries);
      }
    } catch (e) {
      for (const piece of dirty) this.dirty.add(piece);
      throw e;
    }
    // Only the piece that still grows is needed again.
    const newest = Math.max(...this.pieces.keys());
    for (const piece of dirty) if (piece < newest && !this.dirty.has(piece)) this.pieces.delete(piece);
  }

  /** Writes no more of what waits. */
  giveUp(): void {
    this.writer.stop();
    this.dirty.clear();
    this.pieces.clear();
  }

  /** Packets of all pieces that are not on disk as they are now. */
  unstored(): Packet[] {
    return [...this.dirty].sort((a, b) => a - b).flatMap((p) => this.pieces.get(p) ?? []);
  }

  /** Packets of a piece that is not on disk yet, or undefined. */
  inMemory(piece: number): readonly Packet[] | undefined {
    return this.pieces.get(piece);
  }
}

/** Packets of some pieces of a take, in the order asked; a missing piece is empty. A damaged one too, and is told. */
export async function readPieces(take: string, pieces: readonly number[], onDamaged?: (piece: number) => void): Promise<Packet[][]> {
  const found = await readMany(soundDb(), pieces.map((p) => keys.piece(take, p)));
  return pieces.map((p) => {
    const text = found.get(keys.piece(take, p));
    if (text === undefined) return [];
    try {
      return readPiece(text);
    } catch (e) {
      if (!(e instanceof RecordError)) throw e;
      onDamaged?.(p);
      return [];
    }
  });
}

/** Numbers of the pieces of a take that are on disk, in order. */
export async function storedPieces(take: string): Promise<number[]> {
  const prefix = keys.piecePrefix(take);
  return (await keysStarting('sound', prefix)).map((k) => Number(k.slice(prefix.length))).filter((n) => n >= 0);
}

/** Length in ms of what is on disk of a take. */
async function storedLength(take: string): Promise<number> {
  for (const piece of (await storedPieces(take)).reverse()) {
    const [packets] = await readPieces(take, [piece]);
    if (packets.length) return packetsEnd(packets);
  }
  return 0;
}

/** What is on disk of a take that was running when the program ended. */
export async function remainsOf(take: string): Promise<Remains> {
  const beat = Number((await soundDb().getItem(keys.beat(take))) ?? NaN);
  return { ms: await storedLength(take), until: Number.isFinite(beat) ? beat : null };
}

export const removeSound = (takes: readonly string[]): Promise<void> => removeOwned('sound', new Set(takes));

/**
 * Sound of a take from elsewhere. What is here stays as it is, whatever comes under the name of the same take: only pieces that are missing here are added,
 * and the end of one that goes on where it stops here.
 */
export async function bringSound(take: string, packets: readonly Packet[]): Promise<void> {
  // Asked for by name: a walk through the sound of all notes for every take would make a restore slower the more there is.
  const coming = [...new Set(packets.map((p) => pieceOf(p.t)))].sort((a, b) => a - b);
  const found = await readMany(soundDb(), coming.map((k) => keys.piece(take, k)));
  const here = coming.filter((k) => found.has(keys.piece(take, k)));
  const last = here.at(-1);
  const [end] = last === undefined ? [[]] : await readPieces(take, [last]);
  const known = new Set(here);
  const goesOn = (p: Packet): boolean => pieceOf(p.t) === last && end.length > 0 && p.t >= packetsEnd(end) - 1 && sameStart(end, packets);
  const fresh = packets.filter((p) => !known.has(pieceOf(p.t)) || goesOn(p));
  const more = fresh.some((p) => pieceOf(p.t) === last);
  if (fresh.length) await writeSound(take, more ? [...end, ...fresh] : fresh);
}

/** Whether some packets are, at their times, those that another run has. */
function sameStart(some: readonly Packet[], run: readonly Packet[]): boolean {
  const at = new Map(run.map((p) => [p.t, p.data]));
  return some.every(({ t, data }) => {
    const other = at.get(t);
    return other !== undefined && other.length === data.length && other.every((b, i) => b === data[i]);
  });
}

export async function writeSound(take: string, packets: readonly Packet[]): Promise<void> {
  const file = new SoundFile(take);
  file.add(packets);
  try {
    await file.flush();
  } catch (e) {
    // Who asked is told; nothing must be written later behind their back.
    file.giveUp();
    throw e;
  }
}
