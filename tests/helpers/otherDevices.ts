/** The demo note of the tides as other devices give it back: each changed it without having seen what the others did. */
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { type Page } from '@playwright/test';
import { bytesOf } from '../../src/core/formats/blobFile';
import { hereAndNow, type Unwritten } from '../../src/core/formats/bundle';
import { applyEdit, type Edit, type Note } from '../../src/core/note/edit';
import { button, ROOT, tempFolder } from './app';

const HOUR_MS = 3_600_000;

/** As it ships. */
export const tidesNote = () => hereAndNow.readBundle(new Uint8Array(readFileSync(path.join(ROOT, 'demo/notes/demo-tides-0000000001.scrivo'))));

export const changedOn = (device: string, hoursAgo: number, note: Note, edit: Edit): Note => applyEdit(note, edit, { device, now: Date.now() - hoursAgo * HOUR_MS }).note;

/** A file of it, as `Save as a file` writes it. */
export async function fileOf(note: Unwritten): Promise<string> {
  const file = path.join(tempFolder(), 'returned.scrivo');
  writeFileSync(file, await bytesOf(await hereAndNow.writeBundle(note)));
  return file;
}

/** In Settings; what the restore did stands on the screen then. */
export async function restoreFile(page: Page, file: string): Promise<void> {
  const chooser = page.waitForEvent('filechooser');
  await button(page, 'Restore').click();
  await (await chooser).setFiles(file);
  await button(page, 'Done').waitFor();
}
