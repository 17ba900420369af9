import { z } from 'zod';
import { inkColor } from '../core/ink/inks';
import type { PenSetting } from '../core/ink/pen';
import { SORTS } from '../core/library/find';
import { formSchema, penSettingSchema } from '../core/note/schema';
import { alone } from './alone';
import { keys, notesDb } from './databases';
import { policy } from './sealing';

const pen = (id: string, kind: PenSetting['kind'], color: string, width: number, more: Partial<PenSetting> = {}): PenSetting => ({
  id, kind, color, width, name: '', response: 0, steadiness: 0, straight: false, ...more,
});

/** The pens a new writer finds in the cup. */
const FIRST_CUP: readonly PenSetting[] = [
  pen('first-navy', 'ball', inkColor('Navy'), 0.4),
  pen('first-green', 'fountain', inkColor('Green'), 0.5),
  pen('first-red', 'felt', inkColor('Red'), 0.5),
  pen('first-pencil', 'pencil', inkColor('Grey'), 0.5),
  pen('first-light', 'highlighter', inkColor('Yellow'), 5, { opacity: 0.45, straight: true }),
];

/** Sizes of the eraser, mm across. */
export const ERASER_SIZES = [2, 5, 12] as const;

export const settingsSchema = z.looseObject({
  /** Seconds before the stamp at which playing starts; `auto`: as late as this writer writes. */
  leadIn: z.union([z.literal('auto'), z.number().min(0).max(10)]).default('auto'),
  /** Pauses are jumped over, and from which length on, ms. */
  skipPauses: z.boolean().default(false),
  pauseMs: z.number().min(500).max(10_000).default(1500),
  /** What lies ahead of the playing position: there, faint, or not there yet. */
  ahead: z.enum(['full', 'faint', 'hidden']).default('faint'),
  /** Ink of the second pass is shown. */
  secondShown: z.boolean().default(true),
  /** What has no sound is marked on the page. */
  unheardShown: z.boolean().default(true),
  /** Writing at a gap plays it at once. */
  gapPlays: z.boolean().default(true),
  /** How much louder sound is played than it was recorded, dB. */
  gain: z.number().min(0).max(24).default(0),
  speed: z.number().min(0.5).max(3).default(1),
  /** Where numbers without a country and dates of figures are at home (ISO 3166-1); null: where the browser is. */
  country: z.string().regex(/^[A-Z]{2}$/).nullable().default(null),
  theme: z.enum(['system', 'light', 'dark']).default('system'),
  /** How pages look, apart from the interface. */
  pageTheme: z.enum(['light', 'dark', 'interface']).default('light'),
  /** What stands open beside the page on a wide screen. */
  panels: z.object({ pages: z.boolean(), lists: z.boolean() }).default({ pages: true, lists: true }),
  /** Page by page, turned sideways, instead of one below the other. */
  sideways: z.boolean().default(false),
  /** The paper a new note begins with: what was chosen last for a note of its kind; null while nothing was. */
  papers: z.object({ recorded: formSchema.nullable(), written: formSchema.nullable() }).default({ recorded: null, written: null }),
  /** The Library as a list or as page pictures, and its order. */
  libraryView: z.enum(['list', 'pictures']).default('list'),
  librarySort: z.enum(SORTS).default('changed'),
  /** The writer's pens, in the writer's order. */
  cup: z.array(penSettingSchema).min(1).max(40).default([...FIRST_CUP]),
  /** Index of the pen in hand. */
  pen: z.number().int().min(0).default(0),
  /** Id of the pen that was in hand last and was no highlighter. */
  lastPen: z.string().default(''),
  /** Colours chosen for pens, the last one first. */
  lastColors: z.array(z.string().regex(/^#[0-9a-f]{6}$/)).max(12).default([]),
  eraser: z
    .object({
      by: z.enum(['stroke', 'area']).default('stroke'),
      /** mm across. */
      size: z.number().min(0.5).max(50).default(5),
      onlyHighlighter: z.boolean().default(false),
      /** After erasing the last pen comes back by itself. */
      penReturns: z.boolean().default(true),
    })
    .default({ by: 'stroke', size: 5, onlyHighlighter: false, penReturns: true }),
  /** A dense to-and-fro over a word deletes it. */
  scratchOut: z.boolean().default(false),
  /** Lines become typed text as they are written. */
  liveText: z.boolean().default(false),
  /** Holding still at the end of a stroke makes a clean shape of it. */
  holdShapes: z.boolean().default(true),
  /** Shapes set themselves level, upright and at 45 degrees. */
  snap: z.boolean().default(true),
  /** Keys of one letter do something. */
  letterKeys: z.boolean().default(true),
  /** Two fingers undo, three redo. */
  fingerUndo: z.boolean().default(true),
  /** Who writes: the pen alone once one has been seen, the pen alone, or the pen and fingers. */
  writes: z.enum(['auto', 'pen', 'any']).default('auto'),
  penSeen: z.boolean().default(false),
  /** Height of the hand rest, px; 0 for none. */
  handRest: z.number().min(0).max(600).default(0),
  leftHanded: z.boolean().default(false),
  zoomLocked: z.boolean().default(false),
  strip: z
    .object({ lines: z.number().min(0.8).max(3), left: z.number().min(0).max(150), right: z.number().min(0).max(150), rightToLeft: z.boolean(), rest: z.number().min(200).max(3000).default(800) })
    .default({ lines: 1.25, left: 14, right: 10, rightToLeft: false, rest: 800 }),
  /** Wall clock of the last backup of everything, ms. */
  lastBackup: z.number().nullable().default(null),
  /** The last two notes that stood side by side: the one that was written, and its source. */
  lastPair: z.object({ note: z.string(), source: z.string() }).nullable().default(null),
  /** Formats that notes were handed on in, the last first, and what was chosen for each. */
  handing: z.object({ last: z.array(z.string().max(40)).max(20), options: z.record(z.string(), z.record(z.string(), z.unknown())) }).default({ last: [], options: {} }),
  /** Notes that are open stay in a row above the page. */
  tabs: z.boolean().default(false),
  /** A WebDAV server for backups, whether it is used by itself, when it was last, ms, and when one was begun that has not come to its end. The password is kept on this device as it is. */
  dav: z.object({ url: z.string().max(500), user: z.string().max(200), password: z.string().max(200), auto: z.boolean(), last: z.number().nullable(), begun: z.number().nullable().optional() }).default({ url: '', user: '', password: '', auto: false, last: null }),
  /** What was said once and need not be said again. */
  told: z.array(z.string()).max(40).default([]),
  /** Demo notes were brought in or taken away by hand, so they are not brought in again by themselves. */
  demoSettled: z.boolean().default(false),
});
type Known<T> = { [K in keyof T as string extends K ? never : K]: T[K] };
export type Settings = Known<z.infer<typeof settingsSchema>>;
export const DEFAULT_SETTINGS: Settings = settingsSchema.parse({}) as Settings;

/** Whether fingers leave the page unwritten. */
export const onlyPenWrites = ({ writes, penSeen }: Pick<Settings, 'writes' | 'penSeen'>): boolean => writes === 'pen' || (writes === 'auto' && penSeen);

async function storedSettings(): Promise<Settings> {
  const text = await notesDb().getItem(keys.settings);
  if (!text) return DEFAULT_SETTINGS;
  let json: unknown = null;
  try {
    json = JSON.parse(text);
  } catch {
    // Falls through to the defaults: settings can be made again, unlike notes.
  }
  const parsed = settingsSchema.safeParse(json);
  if (parsed.success) return parsed.data as Settings;
  // One setting that cannot be read does not cost the others, the pens above all.
  if (typeof json !== 'object' || json === null) return DEFAULT_SETTINGS;
  const shape = settingsSchema.shape as Record<string, z.ZodType>;
  const good = Object.entries(json).filter(([k, v]) => !shape[k] || shape[k].safeParse(v).success);
  return settingsSchema.parse(Object.fromEntries(good)) as Settings;
}

/**
 * What was changed in the last moments before the tab was closed: storage answers too late for that, so it is written down at once where the browser takes it at once, and
 * is gone from there as soon as it is stored. Nothing of it where everything is locked.
 */
const PENDING = 'scrivo-settings-pending';
const quick = (): Storage | null => {
  try {
    return globalThis.localStorage ?? null;
  } catch {
    // Switched off in the browser: then the last 50 ms are not kept.
    return null;
  }
};

function pending(): Partial<Settings> {
  try {
    const json: unknown = JSON.parse(quick()?.getItem(PENDING) ?? '{}');
    return typeof json === 'object' && json !== null ? (json as Partial<Settings>) : {};
  } catch {
    return {};
  }
}

function setPending(patch: Partial<Settings>): void {
  try {
    if (Object.keys(patch).length) quick()?.setItem(PENDING, JSON.stringify(patch));
    else quick()?.removeItem(PENDING);
  } catch {
    // Without room there it is stored a moment later all the same.
  }
}

/** Everything is locked: nothing of it stays where it would lie open. */
export const dropPending = (): void => setPending({});

/** Changes some settings of those on disk: another tab may have changed others. @throws what storage throws. */
export function patchSettings(patch: Partial<Settings>): Promise<void> {
  if (!policy.current.whole) setPending({ ...pending(), ...patch });
  return alone('settings', async () => {
    await notesDb().setItem(keys.settings, JSON.stringify({ ...(await storedSettings()), ...patch }));
    const left = pending();
    // Changed again meanwhile, here or in another tab: that is still on its way.
    setPending(Object.fromEntries(Object.entries(left).filter(([key, value]) => !(key in patch) || JSON.stringify(value) !== JSON.stringify(patch[key as keyof Settings]))));
  });
}

/** With what was changed in the last moments of the visit before, which is stored with the next change. */
export async function readSettings(): Promise<Settings> {
  const stored = await storedSettings();
  const late = Object.entries(pending()).filter(([key, value]) => (settingsSchema.shape as Record<string, z.ZodType>)[key]?.safeParse(value).success);
  return late.length ? ({ ...stored, ...Object.fromEntries(late) } as Settings) : stored;
}
