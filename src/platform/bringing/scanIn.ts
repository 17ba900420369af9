/** Paper in photos, straightened in a worker. */
import type { Corners } from '../../core/scan/homography';
import type { Ink } from '../../core/scan/straighten';
import { WorkerCall } from '../worker';
import type { Found, Scanned, ScanWork } from './scan.worker';

const worker = new WorkerCall<ScanWork>(() => new Worker(new URL('./scan.worker', window.location.href)));

/** @throws Error with a clause */
export const findPaper = (file: Blob): Promise<Found> => worker.call((w) => w.find(file));
/** `corners`: shares of the photo's width and height. @throws Error with a clause, RangeError when they lie on a line */
export const straightenPaper = (file: Blob, corners: Corners, ink: Ink): Promise<Scanned> => worker.call((w) => w.straighten(file, corners, ink));
/** The photo goes from memory, and the worker with it. */
export const endScanning = (): void => worker.end();
