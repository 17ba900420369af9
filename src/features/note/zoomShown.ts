import { Live } from '../../platform/live';

/** The zoom in sight, percent of true size, and whether the page fills the width: changes with every frame of a pinch, so outside the store. */
export const zoomShown = new Live({ percent: 100, fit: true });
