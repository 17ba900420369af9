/** Derives keys from passphrases, away from the thread that draws: it takes a third of a second and 64 MB on purpose. */
import { deriveKey } from '../core/vault/passphrase';
import type { DeriveAnswer, DeriveRequest } from './passphrase';

const scope = self as unknown as { onmessage: (e: MessageEvent<DeriveRequest>) => void; postMessage: (answer: DeriveAnswer) => void };

scope.onmessage = ({ data }) => {
  deriveKey(data.passphrase, data.derive).then(
    (key) => scope.postMessage({ key }),
    (e: unknown) => scope.postMessage({ error: e instanceof Error ? e.message : String(e) }),
  );
};
