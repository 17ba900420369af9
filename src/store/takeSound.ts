/** The sound of a take, from disk and from what is not stored yet. */
import type { Packet } from '../core/audio/opus';
import { pieceOf } from '../core/audio/pieces';
import { readPieces, storedPieces } from '../storage/soundFile';
import type { Alive } from './alive';
import { soundInMemory } from './unsaved';

export async function soundOfTake(take: string, alive: Pick<Alive, 'sound' | 'earlierSound'>): Promise<Packet[]> {
  const packets: Packet[] = [];
  for (const piece of await storedPieces(take)) packets.push(...(await readPieces(take, [piece]))[0]);
  const sound = soundInMemory(take, alive);
  if (!sound) return packets;
  const unstored = sound.unstored();
  const pieces = new Set(unstored.map((p) => pieceOf(p.t)));
  return [...packets.filter((p) => !pieces.has(pieceOf(p.t))), ...unstored].sort((a, b) => a.t - b.t);
}
