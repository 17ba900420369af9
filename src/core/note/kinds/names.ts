/** What things are called. */
import type { SolidName } from './solid';

export const SOLID_WORDS: Readonly<Record<SolidName, string>> = { box: 'Box', cylinder: 'Cylinder', cone: 'Cone', ball: 'Ball', pyramid: 'Pyramid', prism: 'Prism' };
