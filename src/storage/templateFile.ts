import { readTemplate, writeTemplate, type Template } from '../core/note/template';
import { NewerError, RecordError } from '../core/record';
import { keys, notesDb, readMany } from './databases';

/** All templates, by name; one that cannot be read is set aside. */
export async function readTemplates(): Promise<Template[]> {
  const db = notesDb();
  const index = await db.getItem(keys.templates);
  const ids = index ? index.split(' ').filter(Boolean) : [];
  const found = await readMany(db, ids.map(keys.template));
  const templates: Template[] = [];
  for (const [key, text] of found) {
    try {
      templates.push(readTemplate(text));
    } catch (e) {
      if (e instanceof NewerError) continue;
      if (!(e instanceof RecordError)) throw e;
      await db.setMany({ [keys.aside(key)]: text });
    }
  }
  return templates.sort((a, b) => a.name.localeCompare(b.name));
}

/** `ids`: all templates there are with it. */
export const storeTemplate = (template: Template, ids: readonly string[]): Promise<void> => notesDb().setMany({ [keys.template(template.id)]: writeTemplate(template), [keys.templates]: ids.join(' ') });

export async function removeTemplate(id: string, ids: readonly string[]): Promise<void> {
  await notesDb().setMany({ [keys.templates]: ids.join(' ') });
  await notesDb().removeMany([keys.template(id)]);
}
