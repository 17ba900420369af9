/** The sound of a take, from disk and from what is not stored yet. */
import type { Packet } from '../core/audio/opus';
import { pieceOf } from '../core/audio/pieces';
import { readPieces, storedPieces } from '../storage/soundFile';
import type { Alive } from './alive';
import { soundInMemory } from './unsaved';

/** Pieces that are read at a time. */
const PIECES = 60;

/** Piece by piece in portions, null after the last. */
export async function soundOfTake(take: string, alive: Pick<Alive, 'sound' | 'earlierSound'>): Promise<() => Promise<readonly Packet[] | null>> {
  const waiting = new Map<number, Packet[]>();
  for (const p of soundInMemory(take, alive)?.unstored() ?? []) {
    const list = waiting.get(pieceOf(p.t));
    if (list) list.push(p);
    else waiting.set(pieceOf(p.t), [p]);
  }
  const pieces = [...new Set([...(await storedPieces(take)), ...waiting.keys()])].sort((a, b) => a - b);
  let k = 0;
  return async () => {
    if (k >= pieces.length) return null;
    const some = pieces.slice(k, (k += PIECES));
    const stored = await readPieces(take, some);
    return some.flatMap((piece, i) => waiting.get(piece) ?? stored[i]);
  };
}
