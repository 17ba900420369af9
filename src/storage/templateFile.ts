import { compareNames } from '../core/collation';
import { readTemplate, writeTemplate, type Template } from '../core/note/template';
import { NewerError, RecordError } from '../core/record';
import { alone } from './alone';
import { keys, notesDb, readMany } from './databases';

/** All templates, by name; one that cannot be read is set aside. */
export async function readTemplates(): Promise<Template[]> {
  const db = notesDb();
  const found = await readMany(db, (await listed()).map(keys.template));
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
  return templates.sort((a, b) => compareNames(a.name, b.name));
}

const listed = async (): Promise<string[]> => ((await notesDb().getItem(keys.templates)) ?? '').split(' ').filter(Boolean);

/** Another tab may have kept others meanwhile: they stay. @throws what storage throws. */
export const storeTemplate = (template: Template): Promise<void> =>
  alone('templates', async () => {
    const ids = new Set([...(await listed()), template.id]);
    await notesDb().setMany({ [keys.template(template.id)]: writeTemplate(template), [keys.templates]: [...ids].join(' ') });
  });

export const removeTemplate = (id: string): Promise<void> =>
  alone('templates', async () => {
    await notesDb().setMany({ [keys.templates]: (await listed()).filter((other) => other !== id).join(' ') });
    await notesDb().removeMany([keys.template(id)]);
  });
