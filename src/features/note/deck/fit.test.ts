/** What stands in the deck's row at the widths of real windows (CSS px: phones 360 to 430, a tablet upright 768, a desk 1280). */
import { inlineListening, inlineRecording, toolsInRow } from './fit';

test('a phone has the five that are used every minute and “More”; a desk has everything with the cup', () => {
  for (const width of [360, 390, 430]) expect([width, toolsInRow(width, 6, false), inlineRecording(width), inlineListening(width)]).toEqual([width, { tools: 0, pens: false }, false, false]);
  expect(toolsInRow(768, 6, false)).toEqual({ tools: 6, pens: false });
  expect(inlineRecording(768)).toBe(true);
  expect(toolsInRow(768, 6, true).tools).toBe(0);
  expect(toolsInRow(1280, 6, false)).toEqual({ tools: 6, pens: true });
  expect(toolsInRow(1280, 6, true).tools).toBe(6);
});

test('a wider window never has less in its row', () => {
  for (const recording of [false, true]) {
    let last = 0;
    for (let width = 320; width <= 2000; width += 10) {
      const { tools } = toolsInRow(width, 6, recording);
      expect(tools).toBeGreaterThanOrEqual(last);
      last = tools;
    }
  }
});
