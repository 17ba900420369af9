/** The outline of a stroke against its definition (a union of discs) and against a reference library (perfect-freehand). */
import { getStroke } from 'perfect-freehand';
import { segmentDistance } from './line';
import { Sampler, sampleStroke, traceOutline, tracePen, type PathSink } from './outline';
import { PointBuffer } from './points';
import { NIB_EDGE, PEN_KINDS, radiusAt, type Pen } from './pen';

const felt: Pen = { kind: 'felt', color: '#000000', width: 1 };

/** Collects pieces, and tells whether a point lies in one of them (nonzero rule: all wind the same way). */
class Recorder implements PathSink {
  pieces: [number, number][][] = [];
  discs: [number, number, number][] = [];
  moveTo(x: number, y: number) {
    this.pieces.push([[x, y]]);
  }
  lineTo(x: number, y: number) {
    this.pieces.at(-1)!.push([x, y]);
  }
  arc(x: number, y: number, r: number) {
    this.discs.push([x, y, r]);
  }
  area(piece: [number, number][]) {
    return piece.reduce((s, [x, y], i) => s + x * piece[(i + 1) % piece.length][1] - piece[(i + 1) % piece.length][0] * y, 0) / 2;
  }
  covers(x: number, y: number) {
    if (this.discs.some(([cx, cy, r]) => Math.hypot(x - cx, y - cy) <= r + 1e-6)) return true;
    return this.pieces.some((piece) => piece.length > 2 && inside(piece, x, y));
  }
}

function inside(polygon: readonly (readonly number[])[], x: number, y: number): boolean {
  let odd = false;
  for (let i = 0, k = polygon.length - 1; i < polygon.length; k = i++) {
    const [xi, yi] = polygon[i];
    const [xk, yk] = polygon[k];
    if (yi > y !== yk > y && x < ((xk - xi) * (y - yi)) / (yk - yi) + xi) odd = !odd;
  }
  return odd;
}

const wave = () => {
  const buffer = new PointBuffer();
  for (let i = 0; i <= 80; i++) buffer.add(10 + i * 0.5, 30 + 6 * Math.sin(i / 7), 0.5, i * 8);
  return buffer.points();
};

test('covers the disc of the pen at every sample, and nothing farther than the pen is wide', () => {
  const samples = sampleStroke(wave(), felt);
  const sink = new Recorder();
  traceOutline(samples, sink);
  for (let i = 0; i < samples.length; i += 3) {
    for (let a = 0; a < 6.28; a += 0.5) expect(sink.covers(samples[i] + 0.94 * samples[i + 2] * Math.cos(a), samples[i + 1] + 0.94 * samples[i + 2] * Math.sin(a))).toBe(true);
  }
  for (let x = 5; x < 55; x += 0.7) {
    for (let y = 20; y < 40; y += 0.7) {
      let d = Infinity;
      for (let i = 3; i < samples.length; i += 3) d = Math.min(d, segmentDistance(x, y, samples[i - 3], samples[i - 2], samples[i], samples[i + 1]) - 0.5);
      if (d > 0.03) expect(sink.covers(x, y)).toBe(false);
    }
  }
});

test('all pieces wind the same way, so that they never cancel out', () => {
  const sink = new Recorder();
  traceOutline(sampleStroke(wave(), felt), sink);
  for (const piece of sink.pieces) if (piece.length > 2) expect(sink.area(piece)).toBeGreaterThan(0);
});

test('agrees with the reference outline of an even pen but for a hair at the edge', () => {
  const points = wave();
  const sink = new Recorder();
  traceOutline(sampleStroke(points, felt), sink);
  const reference = getStroke(
    Array.from({ length: points.n }, (_, i) => [points.xy[2 * i] / 100, points.xy[2 * i + 1] / 100]),
    { size: 1, thinning: 0, smoothing: 0.5, streamline: 0, simulatePressure: false, last: true },
  );
  let [both, one] = [0, 0];
  for (let x = 8; x < 54; x += 0.17) {
    for (let y = 22; y < 38; y += 0.17) {
      const [ours, theirs] = [sink.covers(x, y), inside(reference, x, y)];
      if (ours && theirs) both++;
      else if (ours !== theirs) one++;
    }
  }
  expect(one / both).toBeLessThan(0.12);
});

test('what is drawn while the pen moves is what stays: samples only ever grow at the end', () => {
  const points = wave();
  const sampler = new Sampler(felt);
  let before: number[] = [];
  for (let i = 0; i < points.n; i++) {
    sampler.add(points.xy[2 * i] / 100, points.xy[2 * i + 1] / 100, 0.5, points.t[i]);
    const now = [...sampler.samples(false)];
    expect(now.slice(0, before.length)).toEqual(before);
    before = now;
  }
  expect([...sampler.samples()]).toEqual([...sampleStroke(points, felt)]);
});

test('a dot is a disc as wide as the pen', () => {
  const buffer = new PointBuffer();
  buffer.add(5, 5, 0.5, 0);
  const sink = new Recorder();
  traceOutline(sampleStroke(buffer.points(), felt), sink);
  expect(sink.covers(5.49, 5)).toBe(true);
  expect(sink.covers(5.51, 5)).toBe(false);
});

describe('pens', () => {
  const outline = (pen: Pen, points = wave()) => {
    const sink = new Recorder();
    const samples = sampleStroke(points, pen);
    tracePen(pen, samples, sink);
    return { sink, samples };
  };
  const straight = () => {
    const buffer = new PointBuffer();
    for (let i = 0; i <= 60; i++) buffer.add(10 + i, 30, 0.5, i * 8);
    return buffer.points();
  };

  test('every pen winds all its pieces the same way', () => {
    for (const kind of PEN_KINDS) {
      for (const line of [undefined, 'dashed', 'dotted'] as const) {
        const { sink } = outline({ kind, color: '#000000', width: 1, line });
        for (const piece of sink.pieces) if (piece.length > 2) expect(sink.area(piece)).toBeGreaterThan(-1e-9);
      }
    }
  });

  test('the chisel is as wide across its edge as set and as thin along it as its short edge', () => {
    const across = (angle: number) => {
      const { sink } = outline({ kind: 'chisel', color: '#000000', width: 3, angle }, straight());
      let high = 0;
      for (let y = 26; y < 34; y += 0.02) if (sink.covers(40, y)) high += 0.02;
      return high;
    };
    // A line drawn level by an edge that stands upright, level, and at 30 degrees: w |sin| + e |cos| (the shadow of a rectangle).
    expect(across(90)).toBeCloseTo(3, 1);
    expect(across(0)).toBeCloseTo(3 * NIB_EDGE, 1);
    expect(across(30)).toBeCloseTo(3 * Math.sin(Math.PI / 6) + 3 * NIB_EDGE * Math.cos(Math.PI / 6), 1);
  });

  test('a dashed line shows four widths and spares three, a dotted one stands two and a half widths apart', () => {
    const covered = (line: 'dashed' | 'dotted') => {
      const { sink } = outline({ kind: 'ball', color: '#000000', width: 1, line }, straight());
      const on: boolean[] = [];
      for (let x = 10; x < 66; x += 0.05) on.push(sink.covers(x, 30));
      let runs = 0;
      for (let i = 1; i < on.length; i++) if (on[i] && !on[i - 1]) runs++;
      return { share: on.filter(Boolean).length / on.length, runs };
    };
    const dashed = covered('dashed');
    // Round ends add a width to each dash: five of seven.
    expect(Math.abs(dashed.share - 5 / 7)).toBeLessThan(0.03);
    expect(Math.abs(dashed.runs - 56 / 7)).toBeLessThanOrEqual(1);
    const dotted = covered('dotted');
    expect(Math.abs(dotted.share - 1 / 2.5)).toBeLessThan(0.03);
    expect(Math.abs(dotted.runs - 56 / 2.5)).toBeLessThanOrEqual(1);
  });

  test('fountain and brush grow from a point and end in one, the ballpoint does not', () => {
    const ends = (kind: Pen['kind']) => {
      const { samples } = outline({ kind, color: '#000000', width: 1 }, straight());
      const radius = (i: number) => samples[3 * i + 2];
      const n = samples.length / 3;
      return [radius(0) / radius(Math.floor(n / 2)), radius(n - 1) / radius(Math.floor(n / 2))];
    };
    for (const kind of ['fountain', 'brush'] as const) for (const share of ends(kind)) expect(share).toBeLessThan(0.55);
    for (const share of ends('ball')) expect(share).toBeCloseTo(1, 1);
  });

  test('a quick fountain pen writes thinner, a firm one thicker', () => {
    const fountain: Pen = { kind: 'fountain', color: '#000000', width: 1 };
    expect(radiusAt(fountain, 0.5, 0.2)).toBeLessThan(radiusAt(fountain, 0.5, 0.03));
    expect(radiusAt(fountain, 0.9)).toBeGreaterThan(radiusAt(fountain, 0.3));
    // At middle pressure and pace a pen is as wide as it says.
    for (const kind of ['ball', 'fountain', 'brush', 'pencil', 'felt', 'highlighter'] as const) expect(Math.abs(2 * radiusAt({ ...fountain, kind }, 0.5) - 1)).toBeLessThan(0.02);
  });
});
