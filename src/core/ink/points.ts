/**
 * Packed points: the shape of a stroke as a short run of bytes.
 *
 * A point is x and y in hundredths of a millimetre (integers), pressure in 0..127 and the time offset from pen-down in ms
 * (integer). The pen moves smoothly, so each coordinate is stored as the difference from where the two points before would
 * lead; pressure and time step share one byte as long as they change little.
 */
export interface Points {
  readonly n: number;
  /** x then y of each point, in 0.01 mm; length 2n. */
  readonly xy: Int32Array;
  /** Pressure, 0..127; length n. */
  readonly p: Uint8Array;
  /** ms since pen-down, not falling; length n. */
  readonly t: Int32Array;
}

export const PRESSURE_MAX = 127;
const ESCAPE = 15;

const zig = (v: number) => (v >= 0 ? v * 2 : -v * 2 - 1);
const zag = (u: number) => (u % 2 === 0 ? u / 2 : -(u + 1) / 2);

export function packPoints(points: Points): Uint8Array {
  const { n, xy, p, t } = points;
  let out = new Uint8Array(n * 5 + 16);
  let size = 0;
  const varint = (v: number) => {
    if (size + 12 > out.length) {
      const bigger = new Uint8Array(out.length * 2);
      bigger.set(out);
      out = bigger;
    }
    while (v >= 128) {
      out[size++] = (v % 128) | 128;
      v = Math.floor(v / 128);
    }
    out[size++] = v;
  };
  varint(n);
  let x1 = 0;
  let y1 = 0;
  let x2 = 0;
  let y2 = 0;
  let p1 = 0;
  let t1 = 0;
  let step = 0;
  for (let i = 0; i < n; i++) {
    const x = xy[2 * i];
    const y = xy[2 * i + 1];
    const dp = zig(p[i] - p1);
    const dt = zig(t[i] - t1 - step);
    varint(Math.min(dp, ESCAPE) | (Math.min(dt, ESCAPE) << 4));
    if (dp >= ESCAPE) varint(dp);
    if (dt >= ESCAPE) varint(dt);
    // The second point has no direction to lead from, so it is foretold to lie where the first one does.
    const lead = i > 1 ? 1 : 0;
    varint(zig(x - (x1 + lead * (x1 - x2))));
    varint(zig(y - (y1 + lead * (y1 - y2))));
    x2 = x1;
    y2 = y1;
    x1 = x;
    y1 = y;
    p1 = p[i];
    step = t[i] - t1;
    t1 = t[i];
  }
  return out.slice(0, size);
}

/** @throws RangeError when the bytes end early or claim more points than they can hold. */
export function unpackPoints(bytes: Uint8Array): Points {
  let pos = 0;
  const varint = () => {
    let v = 0;
    for (let scale = 1; ; scale *= 128) {
      if (pos >= bytes.length || scale > 2 ** 42) throw new RangeError('Packed points end early.');
      const b = bytes[pos++];
      v += (b & 127) * scale;
      if (b < 128) return v;
    }
  };
  const n = varint();
  if (n * 3 > bytes.length) throw new RangeError(`Packed points claim ${n} points in ${bytes.length} bytes.`);
  const xy = new Int32Array(2 * n);
  const p = new Uint8Array(n);
  const t = new Int32Array(n);
  let x1 = 0;
  let y1 = 0;
  let x2 = 0;
  let y2 = 0;
  let p1 = 0;
  let t1 = 0;
  let step = 0;
  for (let i = 0; i < n; i++) {
    const head = varint();
    let dp = head & 15;
    let dt = head >> 4;
    if (dp === ESCAPE) dp = varint();
    if (dt === ESCAPE) dt = varint();
    const lead = i > 1 ? 1 : 0;
    const x = x1 + lead * (x1 - x2) + zag(varint());
    const y = y1 + lead * (y1 - y2) + zag(varint());
    p1 += zag(dp);
    const t0 = t1;
    t1 += step + zag(dt);
    step = t1 - t0;
    xy[2 * i] = x;
    xy[2 * i + 1] = y;
    p[i] = p1;
    t[i] = t1;
    x2 = x1;
    y2 = y1;
    x1 = x;
    y1 = y;
  }
  return { n, xy, p, t };
}

/** Grows while the pen is down; `points()` is a copy in the shape the packer takes. */
export class PointBuffer {
  n = 0;
  private xy = new Int32Array(512);
  private p = new Uint8Array(256);
  private t = new Int32Array(256);

  /** x, y in mm, pressure 0..1, t in ms since pen-down. A point that repeats the one before in place is dropped, its pressure kept. */
  add(x: number, y: number, pressure: number, t: number): boolean {
    const [xi, yi] = [Math.round(x * 100), Math.round(y * 100)];
    const pi = Math.round(Math.min(1, Math.max(0, pressure)) * PRESSURE_MAX);
    const i = this.n;
    if (i > 0 && xi === this.xy[2 * i - 2] && yi === this.xy[2 * i - 1]) {
      this.p[i - 1] = Math.max(this.p[i - 1], pi);
      return false;
    }
    if (i === this.p.length) this.grow();
    this.xy[2 * i] = xi;
    this.xy[2 * i + 1] = yi;
    this.p[i] = pi;
    this.t[i] = Math.max(i > 0 ? this.t[i - 1] : 0, Math.round(t));
    this.n = i + 1;
    return true;
  }

  points(): Points {
    const n = this.n;
    return { n, xy: this.xy.slice(0, 2 * n), p: this.p.slice(0, n), t: this.t.slice(0, n) };
  }

  /** The same without copying, valid until the next `add`. */
  view(): Points {
    return { n: this.n, xy: this.xy, p: this.p, t: this.t };
  }

  private grow(): void {
    const wider = <T extends Int32Array | Uint8Array>(a: T): T => {
      const b = new (a.constructor as new (n: number) => T)(a.length * 2);
      b.set(a);
      return b;
    };
    this.xy = wider(this.xy);
    this.p = wider(this.p);
    this.t = wider(this.t);
  }
}
