/**
 * The writing strip: a frame on the page, shown large at the bottom of the screen. What is written into the strip lands small in
 * the frame, and the frame goes on along the line, and from line to line, by itself.
 */
export interface StripSetting {
  /** Height of the frame over the distance of the ruling. */
  readonly lines: number;
  /** Margins, mm from the page's edges. */
  readonly left: number;
  readonly right: number;
  readonly rightToLeft: boolean;
  /** How long the pen rests before what is written slides away, ms: longer than within a word. */
  readonly rest: number;
}

export interface Frame {
  /** Index of the page. */
  readonly page: number;
  /** Left top and size on the page, mm. */
  readonly x: number;
  readonly y: number;
  readonly w: number;
  readonly h: number;
}

export interface StripPage {
  readonly w: number;
  readonly h: number;
  readonly spacing: number;
  readonly top: number;
}

/** Writing beyond this share of the strip sends the frame on. */
export const FAR_PART = 0.68;
/** After that, what was written last stands this far from the start of the strip, share of its width. */
const CARRIED = 0.2;
/** The ruled line lies this far down in the frame, share of its height. */
export const BASELINE = 0.68;

/** The frame on the k-th ruled line of a page, at the line's start. `aspect`: width over height of the strip. */
export function frameOn(page: StripPage, index: number, line: number, setting: StripSetting, aspect: number): Frame {
  const h = setting.lines * page.spacing;
  const w = Math.min(h * aspect, page.w);
  return { page: index, w, h, x: startOf(page, setting, w), y: page.top + line * page.spacing - BASELINE * h };
}

const startOf = (page: StripPage, { left, right, rightToLeft }: StripSetting, w: number): number => (rightToLeft ? page.w - right - w : left);

/** Which ruled line the frame stands on. */
export const lineOf = (frame: Frame, page: StripPage): number => Math.round((frame.y + BASELINE * frame.h - page.top) / page.spacing);

const lastLine = (page: StripPage): number => Math.floor((page.h - 8 - page.top) / page.spacing);

/** The frame moved to where a finger put it: onto the nearest ruled line, inside the page. */
export function frameAt(frame: Frame, page: StripPage, x: number, y: number): Frame {
  const line = Math.min(lastLine(page), Math.max(0, Math.round((y + BASELINE * frame.h - page.top) / page.spacing)));
  return { ...frame, x: Math.min(page.w - frame.w, Math.max(0, x)), y: page.top + line * page.spacing - BASELINE * frame.h };
}

/** The next ruled line, on the next page after the last; there `page + 1` may have to be made. */
export function nextLine(frame: Frame, page: StripPage, setting: StripSetting): Frame {
  const line = lineOf(frame, page) + 1;
  const over = line > lastLine(page);
  const at = frame.y + BASELINE * frame.h;
  const y = over ? page.top : at + page.spacing;
  return { ...frame, page: frame.page + (over ? 1 : 0), x: startOf(page, setting, frame.w), y: y - BASELINE * frame.h };
}

/**
 * Where the frame goes after a stroke that reached `edge` (mm on the page: the stroke's far end in the direction of writing);
 * null when it stays. At the line's end margin it goes to the next line.
 */
export function advance(frame: Frame, page: StripPage, setting: StripSetting, edge: number): Frame | null {
  const { left, right, rightToLeft } = setting;
  const reached = rightToLeft ? (frame.x + frame.w - edge) / frame.w : (edge - frame.x) / frame.w;
  if (reached < FAR_PART) return null;
  const end = rightToLeft ? left : page.w - right;
  // The frame's last place on the line ends at the margin; when writing reaches its far part there, the line is done.
  const lastX = rightToLeft ? end : end - frame.w;
  const atEnd = rightToLeft ? frame.x <= lastX + 0.5 : frame.x >= lastX - 0.5;
  if (atEnd) {
    const room = rightToLeft ? edge - end : end - edge;
    return room > (1 - FAR_PART) * 0.5 * frame.w ? null : nextLine(frame, page, setting);
  }
  const x = rightToLeft ? Math.max(lastX, edge - frame.w + CARRIED * frame.w) : Math.min(lastX, edge - CARRIED * frame.w);
  return { ...frame, x };
}
