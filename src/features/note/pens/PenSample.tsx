/** A line as the pen writes it, drawn by the same code as the ink on the page. */
import { useMemo } from 'react';
import Svg, { Path } from 'react-native-svg';
import { Sampler, tracePen, type PathSink } from '../../../core/ink/outline';
import { penOf, respond, Steadier, type PenSetting } from '../../../core/ink/pen';

/** The trembling hand of the sample: small, and always the same. */
const TREMOR_MM = 0.16;
const POINTS = 72;

class SvgSink implements PathSink {
  readonly d: string[] = [];
  moveTo(x: number, y: number): void {
    this.d.push(`M${x.toFixed(3)} ${y.toFixed(3)}`);
  }
  lineTo(x: number, y: number): void {
    this.d.push(`L${x.toFixed(3)} ${y.toFixed(3)}`);
  }
  /** Only whole discs come; drawn in the winding of the outline. */
  arc(x: number, y: number, r: number): void {
    const [l, c, R] = [(x - r).toFixed(3), y.toFixed(3), r.toFixed(3)];
    this.d.push(`A${R} ${R} 0 1 1 ${l} ${c}A${R} ${R} 0 1 1 ${(x + r).toFixed(3)} ${c}Z`);
  }
}

/** A written wave over w by h mm: light at its ends, firm in its middle, slow in its bends, as the pen would make of it. */
function sampleLine(pen: PenSetting, w: number, h: number): string {
  const sampler = new Sampler(penOf(pen));
  const steadier = new Steadier(pen.steadiness);
  const air = pen.width / 2 + 0.3;
  const [tall, middle] = [Math.max(0, h / 2 - air), h / 2];
  let seed = 7;
  const random = () => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 32 - 0.5;
  let t = 0;
  const straight = pen.kind === 'highlighter' && pen.straight;
  for (let i = 0; i <= POINTS; i++) {
    const u = i / POINTS;
    const x = air + u * (w - 2 * air) + (straight ? 0 : random() * TREMOR_MM);
    const y = straight ? middle : middle - tall * Math.sin(u * 3 * Math.PI) * (0.55 + 0.45 * Math.sin(u * Math.PI)) + random() * TREMOR_MM;
    t += 8 + 6 * Math.abs(Math.sin(u * 3 * Math.PI));
    const firm = 0.18 + 0.72 * Math.sin(u * Math.PI) ** 1.5;
    const at = steadier.next(x, y, t);
    sampler.add(at.x, at.y, respond(firm, pen.response), t);
  }
  const sink = new SvgSink();
  tracePen(penOf(pen), sampler.samples(), sink);
  return sink.d.join('');
}

/** `mm`: width of the sample on paper; true size when `width` is its 96 px to the inch. */
export function PenSample({ pen, width, height, mm }: { pen: PenSetting; width: number; height: number; mm: number }) {
  const tall = (mm * height) / width;
  const d = useMemo(() => sampleLine(pen, mm, tall), [pen, mm, tall]);
  return (
    <Svg width={width} height={height} viewBox={`0 0 ${mm} ${tall}`} aria-hidden>
      <Path d={d} fill={pen.color} fillOpacity={pen.opacity ?? 1} />
    </Svg>
  );
}
