/** The paper that new notes begin with. */
import { NEW_FORM, SMALL_FORM, type PageForm } from '../core/note/schema';
import { isSmallUnderFinger } from '../platform/glass';
import type { RootState } from './state';

/** What was chosen last for a note of its kind; where nothing was, one that fits the glass. */
export const paperFor = ({ settings }: Pick<RootState, 'settings'>, kind: 'recorded' | 'written'): PageForm => settings.papers[kind] ?? (isSmallUnderFinger() ? SMALL_FORM : NEW_FORM);
