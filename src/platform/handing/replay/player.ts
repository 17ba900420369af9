/**
 * The player of a replay page. It stands in that page as it is (scripts/lay.mjs takes its types away), so it imports nothing; what it plays is `ReplayData`
 * of core/formats/replay.ts, beside it in the page.
 */
(() => {
  interface Pen {
    color: string;
    width: number;
    opacity: number;
    /** Half the width is `a + b * pressure` times half of `width`. */
    a: number;
    b: number;
    dash: number[];
    under: boolean;
  }
  interface Data {
    length: number;
    pens: Pen[];
    /** Of each stroke: page, pen, ms of the sound (-1 without), 1 where it was the second pass, word (-1 for none), bytes of its points. */
    strokes: number[][];
    /** Of each word: page, and what it is called. */
    words: [number, string][];
    pauses: [number, number][];
    type: string;
  }
  const SVG = 'http://www.w3.org/2000/svg';
  const by = <E extends Element = HTMLElement>(id: string): E => document.getElementById(id) as unknown as E;
  const data = JSON.parse(by('data').textContent!) as Data;

  /** Signs of windows-1252 that are not their own byte: 128 to 159. */
  const byteOf = new Uint8Array(65_536);
  for (let i = 0; i < 256; i++) byteOf[i] = i;
  new TextDecoder('windows-1252').decode(Uint8Array.from({ length: 32 }, (_, i) => 128 + i)).split('').forEach((c, i) => (byteOf[c.charCodeAt(0)] = 128 + i));
  /** Bytes that stand in the page as characters; `=` and the next stand for one that must not. */
  const bytesOf = (id: string): Uint8Array<ArrayBuffer> => {
    const text = by(id).textContent!;
    const out = new Uint8Array(text.length);
    let n = 0;
    for (let i = 0; i < text.length; i++) {
      const c = text.charCodeAt(i);
      out[n++] = c === 61 ? (byteOf[text.charCodeAt(++i)] - 64) & 255 : byteOf[c];
    }
    return out.subarray(0, n);
  };

  // The ink: packed as docs/bundle.md says of points.
  const packed = bytesOf('ink');
  let pos = 0;
  const varint = (): number => {
    let v = 0;
    for (let scale = 1; ; scale *= 128) {
      const b = packed[pos++];
      v += (b & 127) * scale;
      if (b < 128) return v;
    }
  };
  const zag = (u: number) => (u % 2 === 0 ? u / 2 : -(u + 1) / 2);
  const pointsAt = (): { x: number[]; y: number[]; p: number[]; ms: number } => {
    const n = varint();
    const [x, y, p] = [[] as number[], [] as number[], [] as number[]];
    let [p1, t1, step] = [0, 0, 0];
    for (let i = 0; i < n; i++) {
      const head = varint();
      const [dp, dt] = [head & 15, head >> 4];
      p1 += zag(dp === 15 ? varint() : dp);
      const d = zag(dt === 15 ? varint() : dt);
      const last = (l: number[]) => (i > 1 ? 2 * l[i - 1] - l[i - 2] : i ? l[0] : 0);
      x.push(zag(varint()) + last(x));
      y.push(zag(varint()) + last(y));
      step += d;
      t1 += step;
      p.push(p1 / 127);
    }
    return { x, y, p, ms: t1 };
  };

  const pages = [...document.querySelectorAll<SVGSVGElement>('.page > svg')];
  const words: SVGGElement[] = [];
  interface Drawn {
    el: SVGGElement;
    at: number;
    second: boolean;
    word: number;
  }
  const drawn: Drawn[] = [];
  const one = (v: number) => String(Math.round(v) / 100);
  const attributes = (el: Element, of: Record<string, string | number>): void => {
    for (const k in of) el.setAttribute(k, String(of[k]));
  };
  /** What of each word a touch takes hold of, and what lights up: left, top, right, bottom, 1/100 mm. */
  const boxes: number[][] = [];
  const drawStroke = ([page, pen, at, second, word]: number[]): void => {
    const { x, y, p } = pointsAt();
    const look = data.pens[pen];
    const el = document.createElementNS(SVG, 'g');
    attributes(el, { fill: 'none', stroke: look.color, 'stroke-linecap': 'round', 'stroke-linejoin': 'round' });
    if (look.opacity < 1) attributes(el, { opacity: look.opacity });
    // Between the middles of neighbouring pieces runs a curve with the point itself as its handle; a new width begins a new piece.
    let [d, now] = ['', -1];
    const flush = (): void => {
      if (!d) return;
      const path = document.createElementNS(SVG, 'path');
      attributes(path, { d, 'stroke-width': now });
      if (look.dash.length) attributes(path, { 'stroke-dasharray': look.dash.join(' ') });
      el.append(path);
      d = '';
    };
    const middle = (l: number[], i: number) => (l[i] + l[i + 1]) / 2;
    const box = (boxes[word] ??= [Infinity, Infinity, -Infinity, -Infinity]);
    for (let i = 0; i < x.length; i++) {
      if (x[i] < box[0]) box[0] = x[i];
      if (y[i] < box[1]) box[1] = y[i];
      if (x[i] > box[2]) box[2] = x[i];
      if (y[i] > box[3]) box[3] = y[i];
      const w = Math.max(0.1, Math.round(10 * look.width * (look.a + look.b * p[i])) / 10);
      const wide = look.dash.length && now > 0 ? now : w;
      if (wide !== now) {
        flush();
        now = wide;
        d = i ? `M${one(middle(x, i - 1))} ${one(middle(y, i - 1))}` : `M${one(x[0])} ${one(y[0])}`;
      }
      if (x.length === 1) d += 'h0';
      else if (i === x.length - 1) d += `L${one(x[i])} ${one(y[i])}`;
      else d += `Q${one(x[i])} ${one(y[i])} ${one(middle(x, i))} ${one(middle(y, i))}`;
    }
    flush();
    const home = word < 0 ? pages[page] : words[word];
    if (look.under) pages[page].insertBefore(el, pages[page].querySelector('.word'));
    else home.append(el);
    drawn.push({ el, at, second: second === 1, word });
  };
  let [nextWord, nextStroke] = [0, 0];
  /** A page with its words and strokes: in the data they stand page by page. */
  const build = (page: number): void => {
    for (; nextWord < data.words.length && data.words[nextWord][0] === page; nextWord++) {
      const i = nextWord;
      const g = document.createElementNS(SVG, 'g');
      attributes(g, { role: 'button', tabindex: i ? -1 : 0, 'aria-label': data.words[i][1], class: 'word' });
      listen(g, i);
      words.push(g);
      pages[page].append(g);
    }
    for (; nextStroke < data.strokes.length && data.strokes[nextStroke][0] === page; nextStroke++) drawStroke(data.strokes[nextStroke]);
    const air = 100;
    words.forEach((g, i) => {
      if (data.words[i][0] !== page || !boxes[i]) return;
      const [l, t, r, b] = boxes[i];
      const hold = document.createElementNS(SVG, 'rect');
      attributes(hold, { x: (l - air) / 100, y: (t - air) / 100, width: (r - l + 2 * air) / 100, height: (b - t + 2 * air) / 100, rx: 1, class: 'hold' });
      g.prepend(hold);
    });
    // Links lie above what plays.
    for (const link of pages[page].querySelectorAll('a')) pages[page].append(link);
    timed = drawn.filter(({ at }) => at >= 0).sort((a, b) => a.at - b.at);
    for (const { word, at } of timed) if (word >= 0 && !startOf.has(word)) startOf.set(word, at);
    refresh();
  };

  const audio = by<HTMLAudioElement>('sound');
  const [play, seek, time, skip, second, speed, lead] = [by<HTMLButtonElement>('play'), by<HTMLInputElement>('seek'), by('time'), by<HTMLInputElement>('skip'), by<HTMLInputElement>('second'), by<HTMLSelectElement>('speed'), by<HTMLInputElement>('follow')];
  const has = data.type !== '';
  /** The sound stands behind this player in the page: what is written is seen before all of it was read. */
  const hear = (): void => {
    audio.src = URL.createObjectURL(new Blob([bytesOf('bytes')], { type: data.type }));
    by('bytes').remove();
    play.disabled = false;
    root.sound = 'true';
    asked();
  };
  const clock = (ms: number): string => {
    const s = Math.max(0, Math.floor(ms / 1000));
    const two = (v: number) => String(v).padStart(2, '0');
    return s >= 3600 ? `${Math.floor(s / 3600)}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}` : `${Math.floor(s / 60)}:${two(s % 60)}`;
  };
  const position = () => audio.currentTime * 1000;
  const root = document.documentElement.dataset;
  const startOf = new Map<number, number>();
  /** What is heard, in order. */
  let timed: Drawn[] = [];

  let touched = false;
  let heard = -1;
  /** So many of what is heard are on the page. */
  let edge = 0;
  const edgeAt = (now: number): number => {
    let [lo, hi] = [0, timed.length];
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (timed[mid].at <= now) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  };
  /** Everything anew. Before anything was played the page is whole. */
  const refresh = (): void => {
    edge = touched ? edgeAt(position()) : timed.length;
    timed.forEach(({ el }, i) => el.classList.toggle('ahead', i >= edge));
    for (const it of drawn) it.el.classList.toggle('off', it.second && !second.checked);
    show();
  };
  const show = (): void => {
    const now = position();
    seek.value = String(Math.round(now));
    seek.setAttribute('aria-valuetext', clock(now));
    time.textContent = `${clock(now)} / ${clock(data.length)}`;
    if (!touched) return;
    const to = edgeAt(now);
    for (; edge < to; edge++) timed[edge].el.classList.remove('ahead');
    for (; edge > to; edge--) timed[edge - 1].el.classList.add('ahead');
    let k = edge - 1;
    while (k >= 0 && timed[k].word < 0) k--;
    const word = k < 0 ? -1 : timed[k].word;
    if (word === heard) return;
    if (heard >= 0) words[heard].classList.remove('now');
    if (word >= 0) {
      words[word].classList.add('now');
      if (!audio.paused && lead.checked) words[word].scrollIntoView({ block: 'nearest', behavior: matchMedia('(prefers-reduced-motion: reduce)').matches ? 'auto' : 'smooth' });
    }
    heard = word;
  };
  const jump = (ms: number, on = true): void => {
    if (!touched) {
      touched = true;
      refresh();
    }
    audio.currentTime = Math.min(data.length, Math.max(0, ms)) / 1000;
    if (on) void audio.play().catch(() => (time.textContent = 'This browser cannot play the sound of this page.'));
    show();
  };
  const tick = (): void => {
    if (skip.checked) {
      const now = position();
      const pause = data.pauses.find(([from, to]) => now >= from && now < to - 50);
      if (pause) audio.currentTime = pause[1] / 1000;
    }
    show();
    if (!audio.paused) requestAnimationFrame(tick);
  };
  const named = (): void => {
    play.textContent = audio.paused ? 'Play' : 'Pause';
    if (!audio.paused) tick();
  };
  audio.addEventListener('play', named);
  audio.addEventListener('pause', named);
  audio.addEventListener('ended', named);
  audio.addEventListener('seeked', show);
  play.addEventListener('click', () => (audio.paused ? jump(audio.ended ? 0 : position()) : audio.pause()));
  by('back').addEventListener('click', () => jump(position() - 10_000, !audio.paused));
  by('forward').addEventListener('click', () => jump(position() + 10_000, !audio.paused));
  seek.addEventListener('input', () => jump(Number(seek.value), !audio.paused));
  speed.addEventListener('change', () => {
    audio.defaultPlaybackRate = audio.playbackRate = Number(speed.value);
  });
  second.addEventListener('change', refresh);
  for (const el of document.querySelectorAll<HTMLElement>('button[data-ms]')) el.addEventListener('click', () => jump(Number(el.dataset.ms)));
  const rove = (to: number): void => {
    if (!words[to]) return;
    words.forEach((w, i) => w.setAttribute('tabindex', i === to ? '0' : '-1'));
    words[to].focus();
  };
  const listen = (g: SVGGElement, i: number): void => {
    const start = () => {
      words.forEach((w, k) => w.setAttribute('tabindex', k === i ? '0' : '-1'));
      const at = startOf.get(i);
      if (at === undefined || !has) time.textContent = 'No sound was recorded when this was written.';
      else if (!root.sound) time.textContent = 'The sound is still being read.';
      else jump(at);
    };
    g.addEventListener('click', start);
    g.addEventListener('keydown', (e) => {
      if (e.key === 'Enter' || e.key === ' ') start();
      else if (e.key === 'ArrowRight' || e.key === 'ArrowDown') rove(i + 1);
      else if (e.key === 'ArrowLeft' || e.key === 'ArrowUp') rove(i - 1);
      else if (e.key === 'Home') rove(0);
      else if (e.key === 'End') rove(words.length - 1);
      else return;
      e.preventDefault();
    });
  };
  document.addEventListener('keydown', (e) => {
    if (e.key !== ' ' || (e.target as Element).closest('a, button, input, select, [role="button"]') || !root.sound) return;
    e.preventDefault();
    play.click();
  });
  // A link to a moment, as `#t=12.5` (Media Fragments URI 1.0, section 4.2.1).
  const asked = (): void => {
    const at = /(?:^#|&)t=(\d+(?:\.\d+)?)/.exec(location.hash);
    if (at && root.sound) jump(1000 * Number(at[1]), false);
  };
  window.addEventListener('hashchange', asked);
  for (const el of document.querySelectorAll<SVGAElement | HTMLAnchorElement>('a[href^="#t="]')) {
    el.addEventListener('click', (e) => {
      e.preventDefault();
      jump(1000 * Number(el.getAttribute('href')!.slice(3)));
    });
  }
  // What stands in the pages besides ink: things, and typed text letter by letter.
  for (const el of document.querySelectorAll<SVGGElement>('.page [data-from]')) {
    const at = Number(el.dataset.from);
    drawn.push({ el, at, second: el.closest('[data-second]') !== null, word: -1 });
    el.addEventListener('click', () => root.sound && jump(at));
  }
  play.disabled = has;
  build(0);
  root.ready = 'true';
  let page = 1;
  const rest = (): void => {
    if (page >= pages.length) return void (root.whole = 'true');
    build(page++);
    setTimeout(rest);
  };
  const read = (): void => {
    if (has) hear();
    setTimeout(rest);
  };
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', read, { once: true });
  else read();
})();
