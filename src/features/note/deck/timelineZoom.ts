import { Live } from '../../../platform/live';

/** How much of the timeline is in view, as a share; 1 is all of it. */
export const timelineZoom = new Live<number>(1);

/** The shortest stretch that can fill the view, ms. */
export const CLOSEST_MS = 4000;
export const zoomTimeline = (by: number, length: number): void => timelineZoom.set(Math.min(1, Math.max(Math.min(1, CLOSEST_MS / Math.max(1, length)), timelineZoom.get() / by)));
