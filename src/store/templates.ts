/** The writer's own templates: kept from any page, used for new ones. */
import { newId } from '../core/id';
import { pageFrom, templateOf } from '../core/note/template';
import { tell } from '../platform/tabs';
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
    const template = templateOf(sheet, note.ink[page] ?? [], name.trim().slice(0, 60), newId(), Date.now());
    try {
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
  (id: string, at: number): Thunk =>
  (dispatch, getState) => {
    const template = getState().templates?.find((t) => t.id === id);
    const { note } = getState().note;
    if (!template || !note) return;
    const { page, placed } = pageFrom(template, Date.now(), newId);
    dispatch(change({ put: placed, ...addPages(note, at, [page]) }));
  };
