/** What is in sight of the note: changes with every frame of a pinch or a fling, so outside the store. */
import { Live } from '../../platform/live';

/** The zoom, percent of true size, and whether the page fills the width. */
export const zoomShown = new Live({ percent: 100, fit: true });

/** Id of the page in the middle of the view. */
export const pageShown = new Live<string | null>(null);
