import { z } from 'zod';
import { keys, notesDb } from './databases';

export const settingsSchema = z.object({
  /** Seconds before the stamp at which playing starts. */
  leadIn: z.number().min(0).max(10).default(2),
  speed: z.number().min(0.5).max(3).default(1),
  theme: z.enum(['system', 'light', 'dark']).default('system'),
  /** Index of the pen in hand. */
  pen: z.number().int().min(0).default(0),
  /** Once a pen has been seen on this device, fingers only move the page. */
  penSeen: z.boolean().default(false),
  /** Demo notes were brought in or taken away by hand, so they are not brought in again by themselves. */
  demoSettled: z.boolean().default(false),
});
export type Settings = z.infer<typeof settingsSchema>;
export const DEFAULT_SETTINGS: Settings = settingsSchema.parse({});

export async function readSettings(): Promise<Settings> {
  const text = await notesDb().getItem(keys.settings);
  if (!text) return DEFAULT_SETTINGS;
  let json: unknown = null;
  try {
    json = JSON.parse(text);
  } catch {
    // Falls through to the defaults: settings can be made again, unlike notes.
  }
  const parsed = settingsSchema.safeParse(json);
  return parsed.success ? parsed.data : DEFAULT_SETTINGS;
}

export const writeSettings = (settings: Settings): Promise<void> => notesDb().setItem(keys.settings, JSON.stringify(settings));
