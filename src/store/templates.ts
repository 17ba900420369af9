/** The writer's own templates: kept from any page, used for new ones. */
import { newId } from '../core/id';
import { contentsOfTemplate, MOST_CONTENTS, pageFrom, templateOf, type Template } from '../core/note/template';
import { tell } from '../platform/tabs';
import { contentsOf } from '../storage/archive';
import { isQuotaError } from '../storage/databases';
import { readTemplates, removeTemplate, storeTemplate } from '../storage/templateFile';
import { addPages } from '../core/note/pages';
import { change } from './change';
import { reasonOf, say } from './messages';
import { templatesSlice } from './slices';
import type { Thunk } from './thunk';

const { loaded } = templatesSlice.actions;

/** Reads them once. */
export const loadTemplates =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    if (getState().templates) return;
    try {
      dispatch(loaded(await readTemplates()));
    } catch (e) {
      dispatch(say('templates', 'problem', `Your templates could not be read (${reasonOf(e)}). They are unharmed; load the page again.`));
    }
  };

/** What the pictures of one may take. */
export const isTooLarge = (template: Template): boolean => Object.values(template.contents ?? {}).reduce((sum, text) => sum + text.length, 0) * 0.75 > MOST_CONTENTS;
export const TOO_LARGE = `Its pictures take more than ${MOST_CONTENTS >> 20} MB together, which is more than is kept at hand. Make them smaller, or leave some out.`;

/** The open note has the pictures of a template, before it points to them. False, and said, where they could not be stored. */
export const keepContents =
  (template: Template): Thunk<Promise<boolean>> =>
  async (dispatch, _, alive) => {
    const into = alive.file;
    try {
      for (const bytes of contentsOfTemplate(template).values()) await into?.keep(bytes);
      // It may have been put away meanwhile: what nothing points to goes with it.
      return into !== null && alive.file === into;
    } catch (e) {
      dispatch(say('templates', 'problem', isQuotaError(e) ? `There is no room left for the pictures of “${template.name}”. Nothing was changed; free some room (Settings, Storage) and try again.` : `The pictures of “${template.name}” could not be stored (${reasonOf(e)}). Nothing was changed.`));
      return false;
    }
  };

/** Another tab kept or removed one. */
export const followTemplates =
  (): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    if (!getState().templates) return;
    // They are read anew when they are next shown, where this fails.
    dispatch(await readTemplates().then(loaded, () => templatesSlice.actions.forgotten()));
  };

export const keepTemplate =
  (page: string, name: string): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { note } = getState().note;
    const sheet = note?.header.pages.find((p) => p.id === page);
    if (!note || !sheet) return;
    try {
      const template = templateOf(sheet, note.ink[page] ?? [], name.trim().slice(0, 60), newId(), Date.now(), (await contentsOf(note)).contents);
      if (isTooLarge(template)) return dispatch(say('templates', 'info', TOO_LARGE));
      await storeTemplate(template);
      dispatch(loaded(await readTemplates()));
      tell({ kind: 'templates' });
      dispatch(say('templates', 'info', `“${template.name}” is a template now.`));
    } catch (e) {
      dispatch(say('templates', 'problem', `The template could not be stored (${reasonOf(e)}). The page is unchanged.`));
    }
  };

export const dropTemplate =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    try {
      await removeTemplate(id);
      dispatch(loaded(await readTemplates()));
      tell({ kind: 'templates' });
    } catch (e) {
      dispatch(say('templates', 'problem', `The template could not be removed (${reasonOf(e)}). Try again.`));
    }
  };

/** A page that begins as a template, before the one at `at`. */
export const addFromTemplate =
  (id: string, at: number): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const template = getState().templates?.find((t) => t.id === id);
    const { note } = getState().note;
    if (!template || !note) return;
    if (!(await dispatch(keepContents(template)))) return;
    const now = getState().note.note;
    if (now?.header.id !== note.header.id) return;
    const { page, placed } = pageFrom(template, Date.now(), newId);
    dispatch(change({ put: placed, ...addPages(now, at, [page]) }));
  };
