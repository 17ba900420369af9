import { reviewRecord, type ReviewRecord } from '../core/review/record';
import { NewerError, RecordError } from '../core/record';
import { keys, notesDb, readMany, setBeside } from './databases';

/** What is unfinished in some notes, as far as it is known; a damaged record is made anew. */
export async function readReviews(notes: readonly string[]): Promise<Map<string, ReviewRecord>> {
  const found = await readMany(notesDb(), notes.map(keys.review), 500);
  const reviews = new Map<string, ReviewRecord>();
  for (const note of notes) {
    const text = found.get(keys.review(note));
    if (text === undefined) continue;
    try {
      reviews.set(note, reviewRecord.read(text));
    } catch (e) {
      if (!(e instanceof RecordError || e instanceof NewerError)) throw e;
    }
  }
  return reviews;
}

export const writeNoteReview = (note: string, record: ReviewRecord): Promise<void> => setBeside({ note }, { [keys.review(note)]: reviewRecord.write(record) });
