/** From a passphrase to a key: Argon2id (RFC 9106), which costs an attacker memory and not only time. */
import { argon2id } from 'hash-wasm';
import { z } from 'zod';

export const deriveSchema = z.object({
  name: z.literal('argon2id'),
  /** 16 random bytes, in hexadecimal digits. */
  salt: z.string().regex(/^[0-9a-f]{32}$/),
  /** KiB. What a file from elsewhere may ask for is bounded, so that opening it does not take the machine. */
  memory: z.number().int().min(8192).max(1 << 20),
  passes: z.number().int().min(1).max(16),
  lanes: z.number().int().min(1).max(8),
});
export type Derive = z.infer<typeof deriveSchema>;

/** RFC 9106, section 4, second recommended option: 3 passes over 64 MiB in 4 lanes, 128 bits of salt, 256 bits of key. */
export const DERIVE = { name: 'argon2id', memory: 65536, passes: 3, lanes: 4 } as const;

const hex = (bytes: Uint8Array): string => [...bytes].map((b) => b.toString(16).padStart(2, '0')).join('');
export const newDerive = (): Derive => ({ ...DERIVE, salt: hex(globalThis.crypto.getRandomValues(new Uint8Array(16))) });

/** 32 bytes of key. The same passphrase typed on another keyboard is the same: Unicode NFKC, as RFC 8265 has it for such strings. */
export async function deriveKey(passphrase: string, { salt, memory, passes, lanes }: Derive): Promise<Uint8Array> {
  const bytes = Uint8Array.from(salt.match(/../g)!, (h) => parseInt(h, 16));
  return argon2id({ password: passphrase.normalize('NFKC'), salt: bytes, iterations: passes, parallelism: lanes, memorySize: memory, hashLength: 32, outputType: 'binary' });
}
