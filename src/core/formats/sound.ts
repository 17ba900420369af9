/** Sound that is handed on: a take, or what is heard of a note's takes, in order. */
import { Mp4OutputFormat, OggOutputFormat, WebMOutputFormat, type MetadataTags } from 'mediabunny';
import type { Stretch } from '../time/timeline';
import { opusDuration, type Packet } from '../audio/opus';
import { chaptersAsComments, withMp4Chapters, type Chapter } from './chapters';
import { soundFrom, type Portions } from './webmFile';

/** Files that take the packets as they are. */
export const PASSED = ['webm', 'ogg', 'mp4'] as const;
export type Passed = (typeof PASSED)[number];

/**
 * What is heard of takes, one stretch after another from 0 on, without being encoded anew: a cut falls between packets, within 10 ms of its place.
 * @param open gives the packets of a take in portions
 */
export function timelinePortions(stretches: readonly Stretch[], open: (take: string) => Promise<Portions>): Portions {
  let [k, start] = [0, 0];
  let reading: Portions | null = null;
  return async () => {
    while (k < stretches.length) {
      const { take, from, to } = stretches[k];
      reading ??= await open(take);
      const portion = await reading();
      const own: Packet[] = [];
      for (const p of portion ?? []) {
        const middle = p.t + opusDuration(p.data) / 2;
        if (middle >= from && middle < to) own.push({ t: start + p.t - from, data: p.data });
      }
      if (portion === null || (portion.length > 0 && portion[portion.length - 1].t >= to)) {
        start += to - from;
        k++;
        reading = null;
      }
      if (own.length) return own;
    }
    return null;
  };
}

export interface SoundTags {
  readonly title: string;
  /** ms since the epoch. */
  readonly date: number;
  readonly chapters: readonly Chapter[];
}

/** Packets as a file of a kind that takes them as they are; null when there are none. */
export async function passedOn(format: Passed, next: Portions, head: Uint8Array, { title, date, chapters }: SoundTags): Promise<Blob | null> {
  const tags: MetadataTags = { title, date: new Date(date), ...(format === 'ogg' && chapters.length ? { raw: chaptersAsComments(chapters) } : {}) };
  const kind = format === 'webm' ? new WebMOutputFormat() : format === 'ogg' ? new OggOutputFormat() : new Mp4OutputFormat({ fastStart: false });
  const blob = await soundFrom(next, head, kind, tags);
  return blob && format === 'mp4' ? withMp4Chapters(blob, chapters) : blob;
}
