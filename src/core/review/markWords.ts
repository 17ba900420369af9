/** What marks are called. */
import type { MarkKind } from '../note/schema';

export const MARK_WORDS: Readonly<Record<MarkKind, string>> = { missed: 'Missed', key: 'Key', ask: 'Ask', do: 'Do' };
