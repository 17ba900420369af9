/** @jest-environment node */
import { argon2id as reference } from '@noble/hashes/argon2.js';
import { argon2id } from 'hash-wasm';
import { openBundle, sealBundle } from '../formats/archive';
import { bytesOf } from '../formats/blobFile';
import { sha256Hex } from '../hash';
import { newKeyBytes, encrypt, importKey, isSealed, openBytes, openPortions, openText, sealBytes, SealError, sealPortions, sealText } from './seal';
import { DERIVE, deriveKey, deriveSchema, newDerive, type Derive } from './passphrase';
import { newVault, vaultRecord, rewrap, unlock, waitAfter, waitLeft, WrongPassphrase } from './vault';

const bytes = (hex: string): Uint8Array<ArrayBuffer> => Uint8Array.from(hex.match(/../g) ?? [], (h) => parseInt(h, 16));
const hex = (b: Uint8Array): string => Buffer.from(b).toString('hex');
/** The shape of the real thing, quick. */
const quick = (passphrase: string, how: Derive) => deriveKey(passphrase, { ...how, memory: 8192, passes: 1, lanes: 1 });

describe('AES-256-GCM', () => {
  // McGrew and Viega, The Galois/Counter Mode of Operation (the submission to NIST), appendix B, test cases 13 to 16.
  const K = 'feffe9928665731c6d6a8f9467308308feffe9928665731c6d6a8f9467308308';
  const P = 'd9313225f88406e5a55909c5aff5269a86a7a9531534f7da2e4c303d8a318a721c3c0c95956809532fcf0e2449a6b525b16aedf5aa0de657ba637b391aafd255';
  const C = '522dc1f099567d07f47f37a32a84427d643a8cdcbfe5c0c97598a2bd2555d1aa8cb08e48590dbb3da7b08b1056828838c5f61e6393ba7a0abcc9f662898015ad';
  test.each([
    ['13', '0'.repeat(64), '', '0'.repeat(24), '', '', '530f8afbc74536b9a963b4f1c4cb738b'],
    ['14', '0'.repeat(64), '0'.repeat(32), '0'.repeat(24), '', 'cea7403d4d606b6e074ec5d3baf39d18', 'd0d1c8a799996bf0265b98b5d48ab919'],
    ['15', K, P, 'cafebabefacedbaddecaf888', '', C, 'b094dac5d93471bdec1a502270e3cc6c'],
    ['16', K, P.slice(0, 120), 'cafebabefacedbaddecaf888', 'feedfacedeadbeeffeedfacedeadbeefabaddad2', C.slice(0, 120), '76fc6ece0f4e1768cddf8853bb2d551b'],
  ])('test case %s', async (_, key, plain, nonce, name, cipher, tag) => {
    expect(hex(await encrypt(await importKey(bytes(key)), bytes(nonce), bytes(name), bytes(plain)))).toBe(cipher + tag);
  });

  test('a record opens under its own name with its own key, and not when a bit was changed', async () => {
    const key = await importKey(newKeyBytes());
    const text = 'Rule of twelfths: 1, 2, 3, 3, 2, 1 — 潮';
    const sealed = await sealText(key, 'note/a', text);
    expect(isSealed(sealed)).toBe(true);
    expect([...sealed].every((c) => c.charCodeAt(0) < 256)).toBe(true);
    expect(sealed).not.toContain('twelfths');
    expect(await openText(key, 'note/a', sealed)).toBe(text);
    expect(await sealText(key, 'note/a', text)).not.toBe(sealed);
    await expect(openText(key, 'note/b', sealed)).rejects.toBeInstanceOf(SealError);
    await expect(openText(await importKey(newKeyBytes()), 'note/a', sealed)).rejects.toBeInstanceOf(SealError);
    for (const at of [16, 18, 40, sealed.length - 1]) {
      const bent = sealed.slice(0, at) + String.fromCharCode(sealed.charCodeAt(at) ^ 1) + sealed.slice(at + 1);
      await expect(openText(key, 'note/a', bent)).rejects.toBeInstanceOf(SealError);
    }
    await expect(openBytes(key, 'x', bytes('00'))).rejects.toBeInstanceOf(SealError);
    const binary = String.fromCharCode(...Array.from({ length: 256 }, (_, i) => i)).repeat(80);
    const packed = await sealText(key, 'k', binary);
    expect(packed.length).toBeLessThan(binary.length + 60);
    expect(await openText(key, 'k', packed)).toBe(binary);
  });
});

test('sealed portion by portion: it opens whole, and nothing of it can be left out, put in another place, cut off or added', async () => {
  const [key, portion, over] = [await importKey(newKeyBytes()), 1000, 28];
  const plain = Uint8Array.from({ length: 3 * portion }, (_, i) => (i * 7919) % 251);
  for (const size of [0, 1, portion - 1, portion, portion + 1, 3 * portion]) {
    const sealed = await sealPortions(key, 'bundle/a', new Blob([plain.subarray(0, size)]), portion);
    // Every portion has a nonce of 12 bytes and a tag of 16 (NIST SP 800-38D).
    expect(sealed.size).toBe(size + over * Math.max(1, Math.ceil(size / portion)));
    expect(hex(await bytesOf(await openPortions(key, 'bundle/a', sealed, portion)))).toBe(hex(plain.subarray(0, size)));
  }
  const sealed = await sealPortions(key, 'bundle/a', new Blob([plain]), portion);
  const part = (i: number) => sealed.slice(i * (portion + over), (i + 1) * (portion + over));
  const opens = (...parts: Blob[]) => openPortions(key, 'bundle/a', new Blob(parts), portion);
  await expect(opens(part(0), part(1), part(2))).resolves.toBeInstanceOf(Blob);
  for (const parts of [[part(0), part(1)], [part(1), part(0), part(2)], [part(0), part(2)], [part(0), part(1), part(2), part(2)], [part(0), part(1), part(2).slice(0, -1)], []]) await expect(opens(...parts)).rejects.toBeInstanceOf(SealError);
  await expect(openPortions(key, 'bundle/b', sealed, portion)).rejects.toBeInstanceOf(SealError);
});

test('a bundle of a long day is sealed in portions, a small one as every Scrivo before reads it', async () => {
  const key = await importKey(newKeyBytes());
  for (const [size, sealed] of [[1000, { sealed: true }], [(16 << 20) + 5, { sealed: true, portion: 16 << 20 }]] as const) {
    const bundle = new Blob([new Uint8Array(size).fill(7)]);
    const made = await sealBundle(key, 'a', bundle);
    expect(made.sealed).toEqual(sealed);
    expect(await sha256Hex(await openBundle(key, { id: 'a', ...made.sealed }, made.content))).toBe(await sha256Hex(bundle));
  }
});

describe('Argon2id', () => {
  test('the reference gives the vector of RFC 9106, section 5.3', () => {
    const tag = reference(new Uint8Array(32).fill(1), new Uint8Array(16).fill(2), { t: 3, m: 32, p: 4, key: new Uint8Array(8).fill(3), personalization: new Uint8Array(12).fill(4) });
    expect(hex(tag)).toBe('0d640df58d78766c08c037a34a8b53c9d01ef0452d75b65eb52520e96b01e659');
  });
  test('keys are those of the reference, with the parameters in use and with others', async () => {
    const salt = '000102030405060708090a0b0c0d0e0f';
    for (const { memory, passes, lanes } of [DERIVE, { memory: 8192, passes: 2, lanes: 1 }]) {
      const want = reference('Springtide 47', bytes(salt), { t: passes, m: memory, p: lanes, dkLen: 32 });
      expect(hex(await deriveKey('Springtide 47', { name: 'argon2id', salt, memory, passes, lanes }))).toBe(hex(want));
    }
    // The reference is plain JavaScript, and runs in what time the browser tests leave: what takes a reader a third of a second takes it minutes then.
  }, 600_000);
  test('the vector of the reference implementation (phc-winner-argon2, test.c; from memory)', async () => {
    // Its salt has 8 bytes, which deriveKey does not allow: by the library itself.
    expect(await argon2id({ password: 'password', salt: 'somesalt', iterations: 2, parallelism: 1, memorySize: 65536, hashLength: 32, outputType: 'hex' })).toBe('09316115d5cf24ed5a15a31a3ba326e5cf32edc24702987c02b6566f61913cf7');
  });
  test('a file cannot ask for all memory, and an accent is the same however it is typed', async () => {
    expect(deriveSchema.safeParse({ ...newDerive(), memory: 2 ** 22 }).success).toBe(false);
    const how = newDerive();
    expect(hex(await quick('Bo\u0301ya', how))).toBe(hex(await quick('B\u00f3ya', how)));
    expect(newDerive().salt).not.toBe(newDerive().salt);
  });
});

describe('the lock', () => {
  test('opens by its passphrase alone, and by another after a change', async () => {
    const { vault, keyBytes } = await newVault('north cardinal', 'a mark', quick);
    expect(vaultRecord.read(JSON.stringify(vault))).toEqual(vault);
    expect(JSON.stringify(vault)).not.toContain('north');
    expect(await unlock(vault, 'north cardinal', quick)).toEqual(keyBytes);
    await expect(unlock(vault, 'north cardinaL', quick)).rejects.toBeInstanceOf(WrongPassphrase);
    const next = await rewrap(vault, keyBytes, 'south cardinal', 'another', quick);
    expect(await unlock(next, 'south cardinal', quick)).toEqual(keyBytes);
    await expect(unlock(next, 'north cardinal', quick)).rejects.toBeInstanceOf(WrongPassphrase);
    // The key of one lock does not open as that of another.
    await expect(unlock({ ...vault, id: 'other' }, 'north cardinal', quick)).rejects.toBeInstanceOf(WrongPassphrase);
    expect(hex(await openBytes(await importKey(keyBytes), 'n', await sealBytes(await importKey(keyBytes), 'n', bytes('c0ffee'))))).toBe('c0ffee');
  });
  test('slows down with every wrong passphrase, and no clock locks anyone out', () => {
    expect([0, 1, 2, 3, 9, 10, 60].map(waitAfter)).toEqual([0, 1000, 2000, 4000, 256_000, 300_000, 300_000]);
    expect(waitLeft({ notBefore: 5000 }, 4000)).toBe(1000);
    expect(waitLeft({ notBefore: 5000 }, 9000)).toBe(0);
    expect(waitLeft({ notBefore: 9e12 }, 0)).toBe(300_000);
  });
});
