/** Notes, and parts of them, out to files. A new format is an exporter, and one more entry here. */
import { namedPages } from '../core/pdf/leaf';
import { bundleExporter } from '../core/formats/bundleExporter';
import { ownNames, plainName, type Exporter, type Handed, type Leaving, type Work } from '../core/formats/exporter';
import { inkmlExporter } from '../core/formats/inkml/exporter';
import { contentsPage } from '../core/formats/contentsPage';
import type { Note } from '../core/note/edit';
import { growBox, unionBox } from '../core/ink/stroke';
import { coveredBy, strokesOf } from '../core/note/kinds/kinds';
import { pictureOfPart } from '../platform/drawing/partPicture';
import { copyFile, saveFile } from '../platform/files';
import { filmExporter } from '../platform/handing/exporters/filmExporter';
import { pdfExporter } from '../platform/handing/exporters/pdfExporter';
import { jpegExporter, pngExporter, svgExporter } from '../platform/handing/exporters/pictureExporters';
import { replayExporter } from '../platform/handing/exporters/replayExporter';
import { soundExporter } from '../platform/handing/exporters/soundExporter';
import { docxExporter, markdownExporter, rtfExporter, textExporter } from '../platform/handing/exporters/textExporters';
import { writtenByKey } from '../core/reading/pageText';
import { saidOn } from '../core/reading/said';
import { packer } from '../platform/packing';
import { groupInWorker } from '../platform/wordsWorker';
import { contentsOf, heardOf } from '../storage/archive';
import { readTextOf } from '../storage/textFile';
import { readNote } from '../storage/noteReading';
import type { Alive } from './alive';
import { runJob } from './jobs';
import { reasonOf, say } from './messages';
import { settingsSlice } from './slices';
import { soundOfTake } from './takeSound';
import type { RootState } from './state';
import type { Thunk } from './thunk';
import { selected } from './tools';

export type AnyExporter = Exporter<Record<string, unknown>>;
const bundle = bundleExporter(packer);
export const EXPORTERS = [pdfExporter, pngExporter, jpegExporter, svgExporter, inkmlExporter, soundExporter, replayExporter, filmExporter, bundle, markdownExporter, textExporter, rtfExporter, docxExporter] as unknown as readonly AnyExporter[];
export const exporterNamed = (name: string): AnyExporter => EXPORTERS.find((e) => e.name === name) ?? EXPORTERS[0];

/** A note as an exporter takes it, with what is not stored yet. `of`: the open note, of which the text is at hand. */
function leaving(note: Note, of: RootState['note'], alive: Alive, part: Partial<Pick<Leaving, 'chosen' | 'pages'>> = {}): Leaving {
  const words: Leaving['words'] = (page) => groupInWorker(strokesOf(note.ink[page.id] ?? []));
  return {
    note,
    chosen: [],
    pages: note.header.pages,
    ...part,
    async takes() {
      const takes = new Map<string, Blob>();
      for (const t of note.header.takes) {
        const sound = await packer.packSound(await soundOfTake(t.id, alive));
        if (sound) takes.set(t.id, sound);
      }
      return takes;
    },
    sound: (take) => soundOfTake(take, alive),
    heard: () => heardOf(note),
    contents: () => contentsOf(note),
    words,
    async said(page) {
      const text = of.id === note.header.id && of.texts[page.id] ? of.texts[page.id] : await readTextOf(note.header.id, page.id).catch(() => null);
      const own = writtenByKey(note.header.written);
      return text || own.size ? saidOn(await words(page), text ?? undefined, own) : [];
    },
  };
}

/** A note as it is now, what is not stored yet included; null when there is none. */
async function asItIs(of: string, { note: open, id }: RootState['note'], alive: Alive): Promise<Note | null> {
  if (of === id) return open;
  return alive.unsaved.get(of)?.file.current ?? (await readNote(of)).note;
}

/** What is wanted of notes that are handed on. */
export interface Wanted {
  readonly ids: readonly string[];
  readonly format: string;
  readonly options: Readonly<Record<string, unknown>>;
  /** Pages by their numbers; empty for all. */
  readonly pages: string;
  /** Only what is selected on the page. */
  readonly selection: boolean;
}

export interface Made {
  readonly name: string;
  readonly type: string;
  readonly blob: Blob;
  /** What is in it, where it was several files. */
  readonly files: readonly Handed[];
}

/** The notes a person can choose options for: with several, those of the first. */
export const noteFor =
  (id: string): Thunk<Promise<Note | null>> =>
  (_, getState, alive) =>
    asItIs(id, getState().note, alive);

/** Makes what is handed on: one file, or several in a ZIP; of several notes with a page that lists them. @throws Error with a clause */
export const make =
  ({ ids, format, options, pages, selection }: Wanted, work: Work): Thunk<Promise<Made>> =>
  async (_, getState, alive) => {
    const exporter = exporterNamed(format);
    const parsed = exporter.options.parse(options);
    const made: { note: Note; files: readonly Handed[] }[] = [];
    for (const [i, id] of ids.entries()) {
      work.signal.throwIfAborted();
      const note = await asItIs(id, getState().note, alive);
      if (!note) continue;
      const obstacle = exporter.obstacle?.(note);
      // Of several those that have none of it are left out, which the list says.
      if (obstacle && ids.length > 1) {
        made.push({ note, files: [] });
        continue;
      }
      if (obstacle) throw new Error(obstacle.replace(/\.$/, '').replace(/^There/, 'there'));
      const some = exporter.paged && ids.length === 1 ? namedPages(pages, note.header.pages.length) : null;
      const chosen = selection && id === getState().note.id ? selected(getState()) : [];
      const part = { chosen, ...(some ? { pages: some.map((k) => note.header.pages[k]) } : {}) };
      const files = await exporter.write(leaving(note, getState().note, alive, part), parsed, { signal: work.signal, progress: (share) => work.progress((i + share) / ids.length) });
      made.push({ note, files });
    }
    work.signal.throwIfAborted();
    const all = made.flatMap(({ files }) => files);
    if (!all.length) throw new Error(ids.length > 1 ? 'none of these notes has any of it' : 'there is nothing to hand on');
    if (ids.length === 1 && all.length === 1) return { ...all[0], files: all };
    return zipped(made, exporter, ids.length > 1);
  };

/** Kinds that are packed as tightly as they get. */
const TIGHT = /^(audio|video|image\/(png|jpeg))|zip|pdf|officedocument/;

async function zipped(made: readonly { note: Note; files: readonly Handed[] }[], { name }: AnyExporter, several: boolean): Promise<Made> {
  const folders = ownNames(made.map(({ note }) => plainName(note.header.title)));
  const placed = made.map(({ note, files }, i) => ({ note, files: files.map((f) => ({ ...f, name: several && files.length > 1 ? `${folders[i]}/${f.name}` : f.name })) }));
  const names = ownNames(placed.flatMap(({ files }) => files.map((f) => f.name)));
  let k = 0;
  const listed = placed.map(({ note, files }) => ({ note, files: files.map((f) => ({ ...f, name: names[k++] })) }));
  const entries = listed.flatMap(({ note, files }) => files.map((f) => ({ name: f.name, content: f.blob, packed: TIGHT.test(f.type), wall: note.header.changed })));
  if (several) {
    const page = contentsPage(listed.map(({ note, files }) => ({ title: note.header.title || 'Note', made: note.header.made, files: files.map((f) => f.name) })));
    entries.push({ name: 'Contents.html', content: new Blob([page]), packed: false, wall: Date.now() });
  }
  const blob = await packer.zip(entries);
  const title = several ? `${made.length} notes` : plainName(made[0].note.header.title);
  return { name: `${title} ${name}.zip`, type: 'application/zip', blob, files: listed.flatMap(({ files }) => files) };
}

/** Hands a file to the browser, and remembers how it was wanted. */
export const saveMade =
  ({ name, type, blob }: Pick<Made, 'name' | 'type' | 'blob'>): Thunk =>
  (dispatch) => {
    saveFile(name, blob, type);
    dispatch(say('copy', 'info', `“${name}” was handed to the browser as a file.`));
  };

/** Makes and saves as a job of its own: what takes long, and what is wanted at once. */
export const makeAndSave =
  (wanted: Wanted): Thunk<Promise<void>> =>
  async (dispatch) => {
    await dispatch(
      runJob({
        kind: 'copy',
        title: `Making ${wanted.format === 'Sound' ? 'the sound' : `the ${wanted.format}`}`,
        async task(work) {
          dispatch(saveMade(await dispatch(make(wanted, work))));
        },
        said: { key: 'copy', stopped: 'No file was made.', failed: (e) => `The file could not be made (${reasonOf(e)}). The notes themselves are unchanged.` },
      }),
    );
  };

export const rememberChoice =
  (format: string, options: Readonly<Record<string, unknown>>): Thunk =>
  (dispatch, getState) => {
    const { handing } = getState().settings;
    dispatch(settingsSlice.actions.patched({ handing: { last: [format, ...handing.last.filter((f) => f !== format)].slice(0, 3), options: { ...handing.options, [format]: { ...options } } } }));
  };

/** The options a format was last used with, as far as they still hold. */
export function optionsOf({ settings: { handing } }: Pick<RootState, 'settings'>, format: string): Record<string, unknown> {
  const { options } = exporterNamed(format);
  const kept = options.safeParse(handing.options[format] ?? {});
  return { ...(kept.success ? kept.data : options.parse({})) };
}

/** The same as last time, at once. */
export const handOnAtOnce =
  (ids: readonly string[], format: string): Thunk<Promise<void>> =>
  (dispatch, getState) =>
    dispatch(makeAndSave({ ids, format, options: optionsOf(getState(), format), pages: '', selection: false }));

/** A note as a bundle: the open one, or any other. */
export const saveCopy =
  (of?: string): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const id = of ?? getState().note.id;
    if (id) await dispatch(handOnAtOnce([id], bundle.name));
  };

const AIR_MM = 2;

/** What is selected as a picture: a file, or onto the clipboard. */
export const handPicture =
  (paper: boolean, copy: boolean): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const { note } = getState().note;
    const chosen = selected(getState());
    const page = note?.header.pages.find((p) => p.id === chosen[0]?.page);
    if (!note || !page) return;
    try {
      const png = pictureOfPart({ page, placed: chosen, part: growBox(chosen.map(coveredBy).reduce(unionBox), AIR_MM), paper, contents: () => contentsOf(note) });
      // The clipboard takes the promise while the touch counts.
      if (copy) await copyFile(png, 'image/png');
      else saveFile('selection.png', await png, 'image/png');
      dispatch(say('tool', 'info', copy ? 'The picture is on the clipboard.' : 'The picture was handed to the browser as selection.png.'));
    } catch (e) {
      dispatch(say('tool', 'problem', copy ? `The browser did not take the picture (${reasonOf(e)}). Save it as a file instead.` : `The picture could not be made (${reasonOf(e)}). Select less and try again.`));
    }
  };
