/** What is unfinished across notes: looked up where it is known, worked out where it is not. */
import type { Heard } from '../core/audio/heard';
import { Replay } from '../core/ink/replay';
import { tagsOn } from '../core/note/anchors';
import type { Note } from '../core/note/edit';
import { isOf, madeOf, type NoteSummary } from '../core/note/schema';
import { boxTuple, pathOf, type ReviewRecord } from '../core/review/record';
import { momentsOf } from '../core/review/moments';
import { spansOnTimeline } from '../core/time/onTimeline';
import { toTimeline } from '../core/time/timeline';
import { hear, hearingObstacle } from '../platform/hearing';
import { readTakeHeard, writeTakeHeard } from '../storage/heardFile';
import { readNote } from '../storage/noteReading';
import { readReviews, writeNoteReview } from '../storage/reviewFile';
import { readPieces } from '../storage/soundFile';
import { reviewOf } from './listening';
import { isBusy, runJob } from './jobs';
import { reasonOf, say } from './messages';
import { reviewSlice } from './slices';
import type { Thunk } from './thunk';

const { entered, enteredAll, wanted } = reviewSlice.actions;

/** The record of a note of which all sound is known. */
function recordOf(note: Note, heard: ReadonlyMap<string, Heard>): ReviewRecord {
  const { header, ink } = note;
  const replay = new Replay(ink, header.timeline);
  const speech = spansOnTimeline(header.timeline, (take) => heard.get(take)?.speech ?? []);
  const { lag, coverage } = reviewOf(replay, speech, header.timeline, header.settled);
  const namesOn = tagsOn(header.tags);
  const tagged = header.tags
    ? momentsOf(Object.values(ink)).flatMap((m) => {
        const names = namesOn(m.placed);
        const first = m.placed.find((s) => s.stamp) ?? m.placed[0];
        return names.length ? [{ stroke: first.id, names: [...names], page: header.pages.findIndex((p) => p.id === m.page) + 1, at: toTimeline(header.timeline, first.stamp), path: pathOf(m.placed), box: boxTuple(m.box) }] : [];
      })
    : [];
  return { ...madeOf(header), lag: lag?.ms ?? null, share: coverage.share, gaps: coverage.gaps.map(({ from, to, speech: s }) => ({ from, to, speech: s })), tagged };
}

/** All that is known of the sound of a note, or null while some of it is not. */
async function heardOf(header: Pick<NoteSummary, 'timeline'>): Promise<Map<string, Heard> | null> {
  const heard = new Map<string, Heard>();
  for (const take of new Set(header.timeline.map((s) => s.take))) {
    const known = await readTakeHeard(take);
    if (!known) return null;
    heard.set(take, known);
  }
  return heard;
}

async function workOut(header: Pick<NoteSummary, 'id'>, heard: ReadonlyMap<string, Heard>): Promise<ReviewRecord> {
  const { note } = await readNote(header.id);
  const record = recordOf(note, heard);
  // Kept to be quick the next time; without room it is worked out again.
  await writeNoteReview(header.id, record).catch(() => undefined);
  return record;
}

/** What is known to be unfinished, as it was kept: quick, and for a note that was changed since then as it was before. */
export const peekReview =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const headers = getState().library.headers.filter((h) => h.timeline.length > 0);
    const known = await readReviews(headers.map((h) => h.id)).catch(() => new Map<string, ReviewRecord>());
    const { records } = getState().review;
    dispatch(enteredAll([...known].filter(([id]) => !records[id])));
  };

/** Brings the list up to date, note by note; notes whose sound was never looked at are named as such. */
export const loadReview =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const headers = getState().library.headers.filter((h) => h.timeline.length > 0 || h.tagged);
    try {
      const known = await readReviews(headers.map((h) => h.id));
      dispatch(enteredAll(headers.flatMap((h) => (isOf(known.get(h.id), h) ? [[h.id, known.get(h.id)!] as const] : []))));
      for (const header of headers) {
        if (isOf(known.get(header.id), header)) continue;
        const heard = await heardOf(header);
        if (heard) dispatch(entered({ note: header.id, record: await workOut(header, heard) }));
        else dispatch(wanted(header.id));
      }
    } catch (e) {
      dispatch(say('review', 'problem', `What is unfinished could not be read (${e instanceof Error ? e.message : String(e)}). Open the note itself to see its gaps; nothing is lost.`));
    }
  };

/** Looks through the sound of notes that were never looked at, one after another, until it is stopped. */
export const lookThrough =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    if (isBusy(getState(), 'looking') || getState().recording.state !== 'idle') return;
    const obstacle = hearingObstacle();
    if (obstacle) return dispatch(say('review', 'problem', obstacle));
    const list = [...getState().review.wanted];
    await dispatch(
      runJob({
        kind: 'looking',
        title: 'Looking through',
        async task({ signal, progress }) {
          for (const [i, id] of list.entries()) {
            const header = getState().library.headers.find((h) => h.id === id);
            if (!header) continue;
            const heard = new Map<string, Heard>();
            for (const take of header.takes.filter((t) => t.ms > 0)) {
              let known = await readTakeHeard(take.id);
              if (!known) {
                known = await hear({ ms: take.ms, model: false, signal, read: (pieces) => readPieces(take.id, pieces), progress: (share) => progress((i + share) / list.length, header.title) });
                await writeTakeHeard(id, take.id, known);
              }
              heard.set(take.id, known);
            }
            dispatch(entered({ note: id, record: await workOut(header, heard) }));
          }
        },
        said: { key: 'review', stopped: 'Looking through the sound was stopped. What was found so far stays; press the button to go on.', failed: (e) => `Looking through the sound stopped (${reasonOf(e)}). What was found so far stays; press the button to go on.` },
      }),
    );
  };
