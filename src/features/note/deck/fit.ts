/** What of the deck stands in its one row, by the width there is. What does not is unfolded by “More”. */

const BUTTON = 46;
/** Mode switch, record button and the air around, px. */
const ENDS = 90 + 56 + 12;
/** Pen in hand, eraser, lasso, undo and “More”. */
const ALWAYS = 58 + 4 * BUTTON;
/** Marks, level, pause and stop. */
const RECORDING = 4 * BUTTON + 72 + 2 * BUTTON;
const CHIP = 62;
/** So many pens stand in the row, or only the one in hand: none is half hidden that one goes to often. */
const CHIPS = 5;

/** Whether speed, lead-in and marks stand in the row of Listen. */
export const inlineListening = (width: number): boolean => width >= 760;

/** Whether the running recording stands in the row of the tools and needs none of its own. */
export const inlineRecording = (width: number): boolean => width >= ENDS + ALWAYS + RECORDING - BUTTON;

/** How many further tools stand in the row, of `tools`, and whether the cup's pens do. */
export function toolsInRow(width: number, tools: number, recording: boolean): { readonly tools: number; readonly pens: boolean } {
  const left = width - ENDS - ALWAYS - (recording ? RECORDING : 0);
  // Without “More” there is its place too.
  if (left + BUTTON >= tools * BUTTON) return { tools, pens: left + BUTTON - tools * BUTTON >= CHIPS * CHIP };
  return { tools: Math.max(0, Math.floor(left / BUTTON)), pens: false };
}
