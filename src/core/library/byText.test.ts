/** Tags and folders from the text of notes. */
import { folderByText, idf, termsOf, wordsApart } from './byText';

const note = (id: string, folder: string | null, text: string) => termsOf(id, folder, text.split(' ').map((w) => ({ text: w.toLowerCase(), shown: w })));
const NOTES = [
  note('a', 'tides', 'springs neaps range moon water height springs'),
  note('b', 'tides', 'range height water almanac harbour neaps'),
  note('c', 'buoys', 'cardinal lateral topmark water harbour light light'),
  note('d', 'buoys', 'light sector topmark harbour water cardinal'),
];

test('how much a word tells: the worked example of C. D. Manning, P. Raghavan and H. Schütze, Introduction to Information Retrieval (2008), figure 6.8 (values from memory)', () => {
  const n = 806_791;
  expect([18_165, 6723, 19_241, 25_235].map((df) => Number(idf(n, df).toFixed(2)))).toEqual([1.65, 2.08, 1.62, 1.5]);
});

test('words that others have too, short ones and numbers set no note apart', () => {
  const apart = wordsApart(note('x', null, 'Water harbour fog FOG signal signal signal 1234 bell'), NOTES);
  expect(apart[0]).toBe('signal');
  expect(apart).not.toContain('Water');
  expect(apart).not.toContain('1234');
  // Of a library of one nothing can be told.
  expect(wordsApart(NOTES[0], [])).toEqual([]);
});

test('words are shown as they were written first, without signs; longer ones and frequent ones tell more', () => {
  // Of five notes each of these stands in one: log10 5 = 0.699. Ebbing, once: 0.699 * 6/7 = 0.599. Fog signals, four times: 0.699 * (1 + 0.602) * 4/7 = 0.640. A word of seven letters and more counts whole.
  const apart = (text: string) => wordsApart(note('x', null, text), NOTES);
  expect(apart('(Anchor, ebbing bell bell bell bell')).toEqual(['bell', 'ebbing']);
  const words = (list: [string, string][]) => wordsApart(termsOf('x', null, list.map(([text, shown]) => ({ text, shown }))), NOTES);
  expect(words([['anchor', '(Anchor,'], ['anchor', 'ANCHOR']])).toEqual(['Anchor']);
  expect(words([['anchors', 'anchors'], ['sandbank', 'sandbank'], ['anchorage', 'anchorage']])).toEqual(['anchorage', 'anchors', 'sandbank']);
  expect(words([['fog', 'fog'], ['fogs', 'fogs']])).toEqual(['fogs']);
  expect(apart('alpha bravo charlie delta echo foxtrot golf hotel india')).toHaveLength(6);
  // Two notes are too few to tell one from another, three are enough.
  expect([wordsApart(note('x', null, 'anchor'), NOTES.slice(0, 1)), wordsApart(note('x', null, 'anchor'), NOTES.slice(0, 2))]).toEqual([[], ['anchor']]);
});

test('how alike a note and a folder are is the cosine of their weighed words: worked by hand', () => {
  // Four notes; height in one of each folder, moon and light in one. The note has height (twice) and moon: weights 1.301 * log10(4/3) and log10(4/2).
  const three = [note('a', 'tides', 'height moon'), note('b', 'buoys', 'height light'), note('c', 'buoys', 'sector')];
  const of = (text: string) => folderByText(note('x', null, text), three);
  // Tides: (0.1625 * 0.1249 + 0.301 * 0.301) / (0.3421 * 0.3259) = 0.995; buoys: 0.1625 * 0.1249 / (0.3421 * 0.8607) = 0.069, less than by chance.
  expect(of('height height moon')).toBe('tides');
  // Nothing but height: log10(4/3) = 0.125; tides 0.1249 / 0.6149 = 0.203 (moon weighs log10 4 now), buoys 0.1249 / 0.8605 = 0.145.
  expect(of('height')).toBe('tides');
  expect([folderByText(note('x', null, 'height'), three.slice(1)), folderByText(note('x', null, 'height'), three.slice(1, 2))]).toEqual(['buoys', null]);
});

test('a folder is proposed by its words, and never the one it lies in', () => {
  expect(folderByText(note('x', null, 'neaps springs range moon'), NOTES)).toBe('tides');
  expect(folderByText(note('x', null, 'topmark cardinal light'), NOTES)).toBe('buoys');
  expect(folderByText(note('x', 'buoys', 'topmark cardinal light'), NOTES)).toBeNull();
  expect(folderByText(note('x', null, 'budget tent biscuits'), NOTES)).toBeNull();
});
