/** Contents: their hash is judged by Node's own SHA-256. */
import 'fake-indexeddb/auto';
import { createHash, webcrypto } from 'node:crypto';
import { readContent, removeContents, writeContent } from './contentFile';
import { keys, soundDb } from './databases';

Object.defineProperty(globalThis, 'crypto', { value: webcrypto, configurable: true });

const bytes = Uint8Array.from({ length: (1 << 20) * 2 + 77 }, (_, i) => (i * 31 + (i >> 9)) & 255);

test.each([0, 1, 1 << 20, bytes.length])('%d bytes come back as they were, under their SHA-256', async (n) => {
  const some = bytes.subarray(0, n);
  const hash = await writeContent(some);
  expect(hash).toBe(createHash('sha256').update(some).digest('hex'));
  expect(Buffer.compare(Buffer.from((await readContent(hash))!), Buffer.from(some))).toBe(0);
});

test('the same content is stored once; one that was damaged is not given out, and is written anew', async () => {
  const hash = await writeContent(bytes);
  const before = await soundDb().getAllKeys();
  await writeContent(bytes);
  expect(await soundDb().getAllKeys()).toEqual(before);
  const key = keys.content(hash, 1);
  const text = (await soundDb().getItem(key))!;
  for (const damaged of [text.slice(0, -5), `${text.slice(0, -1)}${String.fromCharCode(text.charCodeAt(text.length - 1) ^ 1)}`, 'nothing of the kind']) {
    await soundDb().setItem(key, damaged);
    expect(await readContent(hash)).toBeNull();
  }
  await soundDb().removeMany([key]);
  expect(await readContent(hash)).toBeNull();
  await writeContent(bytes);
  expect((await readContent(hash))!.length).toBe(bytes.length);
});

test('what is let go leaves nothing, and nothing else goes with it', async () => {
  const [one, other] = [await writeContent(bytes), await writeContent(bytes.subarray(0, 5))];
  await removeContents([one]);
  expect(await readContent(one)).toBeNull();
  expect(await readContent(other)).toHaveLength(5);
  expect((await soundDb().getAllKeys()).filter((k) => k.includes(one))).toEqual([]);
});
