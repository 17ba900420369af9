/** The values of a trace as InkML writes them (W3C Recommendation, 20 September 2011, section 3.2.1). */

/** A file is no InkML, or what stands in it is no ink. */
export class InkmlError extends Error {
  readonly name = 'InkmlError';
}

/** A number, plain or hexadecimal, with what says how it counts before it; a truth value; a wildcard. */
const TOKEN = /[!'"]?\s*(?:[-+]?#[0-9A-Fa-f]+|[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?|[*?])|[TF]/g;

function numberOf(text: string): number {
  if (text === 'T') return 1;
  if (text === 'F') return 0;
  const hex = /^([-+]?)#(.*)$/.exec(text);
  return hex ? (hex[1] === '-' ? -1 : 1) * parseInt(hex[2], 16) : Number(text);
}

/**
 * Values of one trace by channel, fully added up: a row a point.
 * @param channels how many there are.
 * @param due so many of them stand in every point; those after may be left out from the right, and are NaN then.
 * @throws InkmlError on text that is no trace.
 */
export function traceValues(text: string, channels: number, due = channels): number[][] {
  const points: number[][] = [];
  const order: (0 | 1 | 2)[] = Array<0 | 1 | 2>(channels).fill(0);
  const last = Array<number>(channels).fill(0);
  const step = Array<number>(channels).fill(0);
  for (const raw of text.split(',')) {
    if (!raw.trim()) continue;
    // "1125 18432", "23'43\"7" and "1-2" are all ways to write values.
    const tokens = raw.match(TOKEN) ?? [];
    if (tokens.length < due) throw new InkmlError(`A point has ${tokens.length} values where ${due} are due.`);
    const now = Array<number>(channels).fill(NaN);
    for (let c = 0; c < Math.min(channels, tokens.length); c++) {
      const token = tokens[c].replace(/\s+/g, '');
      const prefix = "!'\"".indexOf(token[0]);
      if (prefix >= 0) order[c] = prefix as 0 | 1 | 2;
      const value = prefix >= 0 ? token.slice(1) : token;
      if (value === '*' || value === '?') now[c] = last[c] + (value === '*' && order[c] > 0 ? step[c] : 0);
      else {
        const v = numberOf(value);
        now[c] = order[c] === 0 ? v : order[c] === 1 ? last[c] + v : last[c] + step[c] + v;
      }
      step[c] = now[c] - last[c];
      last[c] = now[c];
    }
    points.push(now);
  }
  return points;
}
