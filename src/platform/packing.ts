/** Bundles and sound files packed and unpacked in a worker. */
import { proxy, type Remote } from 'comlink';
import { BundleError, hereAndNow, type Packer } from '../core/formats/bundle';
import { sizeOf } from '../core/formats/blobFile';
import { InkmlError } from '../core/formats/inkml/traceText';
import { RecordError } from '../core/record';
import { TooLongError, WorkerCall } from './worker';

const worker = new WorkerCall<Packer>(() => new Worker(new URL('./packing.worker', window.location.href)));

/** A file of ink that is not read by then is given up, ms: 100,000 strokes take a few seconds. */
const READ_INK_MS = 40_000;

/** A bundle that is not read by then is given up, ms, and so much more for every byte of it: 2 hours of sound and 20,000 strokes take a few seconds. */
const READ_BUNDLE_MS = 60_000;
const MS_PER_BYTE = 0.001;
const tooLong = (e: unknown): never => {
  throw e instanceof TooLongError ? new BundleError('This file takes far longer to read than any note does, so it was given up. Nothing was changed.') : e;
};

/** Errors lose their class on the way out of a worker, and keep their name. */
function asThrown(e: unknown): unknown {
  if (!(e instanceof Error)) return e;
  const made = { BundleError, RecordError, InkmlError }[e.name];
  return made ? new made(e.message) : e;
}

async function pack<R>(ask: (p: Packer | Remote<Packer>) => Promise<R>, limit?: number): Promise<R> {
  if (!worker.possible) return ask(hereAndNow);
  try {
    return await worker.call(ask, limit);
  } catch (e) {
    throw asThrown(e);
  }
}

/** Ends what is being packed or unpacked, whatever it claims to hold. */
export const stopPacking = (): void => worker.end();

export const packer: Packer = {
  writeBundle: (bundle) => pack((p) => p.writeBundle(bundle)),
  readBundle: (content) => pack((p) => p.readBundle(content), READ_BUNDLE_MS + sizeOf(content) * MS_PER_BYTE).catch(tooLong),
  // The worker asks for one portion after another.
  packSound: (next) => pack((p) => p.packSound(proxy(next))),
  unpackSound: (webm) => pack((p) => p.unpackSound(webm)),
  readInk: (...of) => pack((p) => p.readInk(...of), READ_INK_MS),
  zip: (files) => pack((p) => p.zip(files)),
};
