/** The colours of ink that are offered, and those that the first pens have. */

export const SWATCHES = [
  { color: '#1d1d1b', name: 'Black' },
  { color: '#16324f', name: 'Navy' },
  { color: '#2456a6', name: 'Blue' },
  { color: '#14665b', name: 'Green' },
  { color: '#4c7d1f', name: 'Leaf' },
  { color: '#b5382a', name: 'Red' },
  { color: '#c8610a', name: 'Orange' },
  { color: '#6b3f8f', name: 'Violet' },
  { color: '#a83279', name: 'Plum' },
  { color: '#6f4a2b', name: 'Brown' },
  { color: '#4a4a4a', name: 'Grey' },
] as const;

/** Light colours, to highlight and to fill with. */
export const TINTS = [
  { color: '#f2c94c', name: 'Yellow' },
  { color: '#f6e3a8', name: 'Straw' },
  { color: '#a9d39a', name: 'Pale green' },
  { color: '#9ccbe8', name: 'Sky' },
  { color: '#f3a6c0', name: 'Pink' },
  { color: '#f1b48a', name: 'Peach' },
] as const;

type InkName = (typeof SWATCHES)[number]['name'] | (typeof TINTS)[number]['name'];

export const inkColor = (name: InkName): string => [...SWATCHES, ...TINTS].find((s) => s.name === name)!.color;
