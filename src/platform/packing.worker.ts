/** Packs and unpacks bundles, away from the thread that draws. */
import { expose } from 'comlink';
import { hereAndNow } from '../core/formats/bundle';

expose(hereAndNow);
