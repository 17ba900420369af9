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

test('a folder is proposed by its words, and never the one it lies in', () => {
  expect(folderByText(note('x', null, 'neaps springs range moon'), NOTES)).toBe('tides');
  expect(folderByText(note('x', null, 'topmark cardinal light'), NOTES)).toBe('buoys');
  expect(folderByText(note('x', 'buoys', 'topmark cardinal light'), NOTES)).toBeNull();
  expect(folderByText(note('x', null, 'budget tent biscuits'), NOTES)).toBeNull();
});
