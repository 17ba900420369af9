/** Derives keys from passphrases, away from the thread that draws: it takes a third of a second and 64 MB on purpose. */
import { expose } from 'comlink';
import { deriveKey } from '../core/vault/passphrase';

const deriving = { deriveKey };
export type Deriving = typeof deriving;

expose(deriving);
