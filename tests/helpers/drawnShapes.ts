/**
 * Shapes as hands draw them, with the name that was meant: any turn and size, a hand's slow sway and fast tremor, ends that overshoot
 * or stay open, corners cut round. Proportions keep away from those that people disagree about (a square of 1 to 1.2).
 */
import { PointBuffer, type Points } from '../../src/core/ink/points';
import { SHAPE_NAMES, type ShapeName } from '../../src/core/ink/shapes/shape';
import { random } from './hershey';

type Vec = [number, number];

const regular = (k: number, rx = 1, ry = 1): Vec[] => Array.from({ length: k }, (_, i) => [rx * Math.cos((2 * Math.PI * i) / k), ry * Math.sin((2 * Math.PI * i) / k)]);

/** What is drawn by hand: a bent line finds its way by itself. */
export const DRAWN = SHAPE_NAMES.filter((n): n is Exclude<ShapeName, 'elbow'> => n !== 'elbow');

export function drawnShape(name: (typeof DRAWN)[number], seed: number): Points {
  const rnd = random(seed);
  const between = (a: number, b: number) => a + rnd() * (b - a);
  let path: Vec[];
  let closed = true;
  switch (name) {
    case 'line':
      closed = false;
      path = [[-1, 0], [1, 0]];
      break;
    case 'arrow': {
      closed = false;
      const barb = between(0.25, 0.6);
      const spread = between(0.4, 0.75);
      const up: Vec = [1 - barb * Math.cos(spread), barb * Math.sin(spread)];
      const down: Vec = [1 - barb * Math.cos(spread), -barb * Math.sin(spread)];
      path = [[-1, 0], [1, 0], up, [1, 0], down];
      break;
    }
    case 'curve': {
      closed = false;
      const bow = between(0.25, 0.9) * (rnd() < 0.5 ? 1 : -1);
      path = Array.from({ length: 30 }, (_, i) => {
        const u = i / 29;
        return [-1 + 2 * u, 4 * bow * u * (1 - u)] as Vec;
      });
      break;
    }
    case 'circle':
      path = regular(72);
      break;
    case 'ellipse':
      path = regular(72, 1, 1 / between(1.4, 3));
      break;
    case 'square':
      path = [[-1, -1], [1, -1], [1, 1], [-1, 1]];
      break;
    case 'rectangle': {
      const k = 1 / between(1.4, 3);
      path = [[-1, -k], [1, -k], [1, k], [-1, k]];
      break;
    }
    case 'diamond': {
      const k = 1 / between(1.5, 2.5);
      path = [[-1, 0], [0, -k], [1, 0], [0, k]];
      break;
    }
    case 'triangle': {
      const tip = between(-0.7, 0.7);
      path = [[-1, 0.6], [1, 0.6], [tip, 0.6 - between(1, 1.9)]];
      break;
    }
    case 'polygon':
      path = regular(rnd() < 0.5 ? 5 : 6);
      break;
  }
  const size = between(8, 35);
  const turn = between(0, 2 * Math.PI);
  if (closed) {
    const start = Math.floor(rnd() * path.length);
    path = [...path.slice(start), ...path.slice(0, start)];
    if (rnd() < 0.5) path.reverse();
    path.push(path[0]);
  }
  // Walk the path in steps of about 1.2 % of its length, as a pen at an even pace is sampled.
  const ways = [0];
  for (let i = 1; i < path.length; i++) ways.push(ways[i - 1] + Math.hypot(path[i][0] - path[i - 1][0], path[i][1] - path[i - 1][1]));
  const total = ways[ways.length - 1];
  // Open ends stop short of closing, overshoot runs on over the beginning.
  const end = closed ? total * (1 + between(-0.07, 0.07)) : total;
  const at = (way: number): Vec => {
    const w = closed ? ((way % total) + total) % total : Math.min(total, Math.max(0, way));
    let k = 1;
    while (k < ways.length - 1 && ways[k] < w) k++;
    const u = (w - ways[k - 1]) / (ways[k] - ways[k - 1]);
    return [path[k - 1][0] + u * (path[k][0] - path[k - 1][0]), path[k - 1][1] + u * (path[k][1] - path[k - 1][1])];
  };
  const tremor = between(0.002, 0.009);
  const sway = [between(0, 0.03), between(0, 0.03), between(0, 6), between(0, 6)];
  const round = between(0, 0.02) * total;
  const buffer = new PointBuffer();
  const n = Math.round(between(60, 110));
  for (let i = 0; i <= n; i++) {
    const way = (end * i) / n;
    const [p, q, r] = [at(way - (closed || way > round ? round : 0)), at(way), at(way + round)];
    const bell = () => rnd() + rnd() + rnd() - 1.5;
    let [x, y] = [(p[0] + q[0] + r[0]) / 3, (p[1] + q[1] + r[1]) / 3];
    x += 2 * tremor * bell() + sway[0] * Math.sin(sway[2] + (5 * way) / total);
    y += 2 * tremor * bell() + sway[1] * Math.sin(sway[3] + (4 * way) / total);
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    buffer.add(100 + size * (x * c - y * s), 140 + size * (x * s + y * c), 0.5, i * 12);
  }
  return buffer.points();
}
