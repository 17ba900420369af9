/** Drawings from elsewhere: what runs, moves or leads elsewhere is gone, what is drawn is counted, and what is plain comes through. */
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { DrawingError, tamedDrawing } from './drawing';

const svg = (inner: string, more = '') => `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 90 60" ${more}>${inner}</svg>`;

test('what is plain comes through as it was: shapes, gradients, text, styles, pictures of its own bytes', () => {
  const plain = svg('<defs><linearGradient id="sea"><stop offset="0" stop-color="#16324f"/></linearGradient></defs><style>.a{fill:url(#sea)}</style><g transform="translate(3 4)"><path class="a" d="M0 0L9 9z"/><use xlink:href="#b"/><circle id="b" r="4"/></g><text x="1" y="2">Ebb &amp; flood &lt; 3 m</text><image href="data:image/png;base64,iVBORw0KGgo=" width="9" height="9"/>');
  const out = tamedDrawing(plain);
  for (const kept of ['viewBox="0 0 90 60"', 'fill:url(#sea)', 'd="M0 0L9 9z"', 'xlink:href="#b"', 'Ebb &amp; flood &lt; 3 m', 'data:image/png;base64', 'stop-color="#16324f"']) expect(out).toContain(kept);
  // Once more changes nothing.
  expect(tamedDrawing(out)).toBe(out);
});

test('every sticker that ships comes through, with all its shapes', () => {
  const folder = path.resolve(__dirname, '../../../public/stickers');
  const names = readdirSync(folder).filter((n) => n.endsWith('.svg'));
  expect(names.length).toBeGreaterThan(30);
  for (const name of names) {
    const text = readFileSync(path.join(folder, name), 'utf8');
    const shapes = (t: string) => (t.match(/<(path|circle|ellipse|rect|polygon)\b/g) ?? []).length;
    expect([name, shapes(tamedDrawing(text))]).toEqual([name, shapes(text)]);
  }
});

test('what runs, moves, fetches or holds another page is taken out', () => {
  const out = tamedDrawing(svg(
    '<script>run()</script><style>@import url(https://a.example/i.css);rect{fill:url(https://a.example/f);stroke:u\\72l(https://b.example/g)}</style><style><![CDATA[@import "https://a.example/j.css";]]></style><image xlink:href="https://a.example/p.png"/><foreignObject><iframe src="https://a.example"/></foreignObject><a href="javascript:run()"><rect width="5" height="5" onclick="run()" style="fill:url(https://a.example/h)"/></a><animate attributeName="x"/><set/><use href="https://a.example/s.svg#x"/><rect fill="url(&#x22;https://a.example/k&#x22;)"/><g xml:base="https://a.example/"/>',
    'onload="run()"',
  ));
  for (const gone of ['run()', 'a.example', 'script', 'foreignObject', 'iframe', 'animate', '<set', '@import', 'onload', 'onclick']) expect(out).not.toContain(gone);
  // An escape that could spell a function spells none any more.
  expect(out).not.toMatch(/url\(|\\/);
  expect(out).toContain('<rect width="5" height="5"');
});

test('a drawing of a thousand signs that asks for any number of shapes is refused, however it points to its parts', () => {
  const nest = (tag: (id: string, inner: string) => string, use: (id: string) => string, last: string) => `${tag('n0', last)}${Array.from({ length: 12 }, (_, i) => tag(`n${i + 1}`, use(`n${i}`).repeat(10))).join('')}${use('n12')}`;
  const hostile = {
    'nested use': nest((id, inner) => `<g id="${id}">${inner}</g>`, (id) => `<use href="#${id}"/>`, '<rect width="1" height="1"/>'),
    'symbols in definitions': `<defs>${nest((id, inner) => `<symbol id="${id}">${inner}</symbol>`, (id) => `<use xlink:href="#${id}"/>`, '<rect width="1" height="1"/>')}</defs><use href="#n12"/>`,
    'patterns in patterns': nest((id, inner) => `<pattern id="${id}" width="1" height="1">${inner}</pattern>`, (id) => `<rect width="9" height="9" fill="url(#${id})"/>`, '<rect width="1" height="1"/>'),
    'masks in masks': nest((id, inner) => `<mask id="${id}">${inner}</mask>`, (id) => `<rect width="9" height="9" mask="url(#${id})"/>`, '<rect width="1" height="1"/>'),
    'markers at every corner': `<marker id="m">${'<rect width="1" height="1"/>'.repeat(300)}</marker><path marker-mid="url('#m')" d="M0 0${'L1 1'.repeat(600)}"/>`,
    'a style sheet that points': `<style>rect{mask:url(#m)}</style><mask id="m">${'<circle r="1"/>'.repeat(400)}</mask>${'<rect width="1" height="1"/>'.repeat(400)}`,
    'filters without end': '<filter id="f"><feGaussianBlur stdDeviation="90"/></filter>' + '<rect width="9" height="9" filter="url(#f)"/>'.repeat(60),
    'very many shapes': '<rect width="1" height="1"/>'.repeat(120_000),
  };
  for (const [name, inner] of Object.entries(hostile)) {
    const began = performance.now();
    expect([name, (() => { try { return tamedDrawing(svg(inner)).length; } catch (e) { return e instanceof DrawingError ? 'refused' : e; } })()]).toEqual([name, 'refused']);
    // Not a figure of speed: exponential work would take hours.
    expect(performance.now() - began).toBeLessThan(60_000);
  }
});

test('what holds itself, what is deep, what is no drawing', () => {
  expect(() => tamedDrawing(svg('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>'))).not.toThrow();
  for (const bad of ['', 'x', '<html/>', '<svg', '<!DOCTYPE svg [<!ENTITY a "ha">]><svg>&a;</svg>', svg('<g>'.repeat(2000) + '</g>'.repeat(2000))]) expect(() => tamedDrawing(bad)).toThrow(DrawingError);
});
