/** Lines of a flow as the editor's document, and back (package ProseMirror). Look and list are marks and attributes of their own; what is pasted keeps lists and emphasis and nothing else. */
import { DOMParser as Reader, Schema, type Mark, type Node } from 'prosemirror-model';
import { LIST_INDENT, type Typed } from '../../../../core/note/kinds/typed';
import { FAMILIES, hasCuts, MM_PER_PT, type Face, type Look } from '../../../../core/text/faces';
import { tidied, type Draft } from '../../../../core/text/flow';
import type { Run } from '../../../../core/text/layout';

/** So many mm of the page, at the scale it is shown at: the editor's own property `--k`, px per mm. */
const onPage = (mm: number) => `calc(${mm}px * var(--k))`;
const block = { tag: 'p, div, h1, h2, h3, h4, h5, h6, blockquote, pre, dt, dd, tr, figcaption' };

export const schema = new Schema({
  nodes: {
    doc: { content: 'line+' },
    line: {
      content: 'text*',
      attrs: { id: { default: null }, list: { default: null }, align: { default: null } },
      parseDOM: [{ tag: 'li', getAttrs: (el) => ({ list: el.parentElement?.tagName === 'OL' ? 'number' : el.querySelector(':scope > input[type=checkbox]') ? (el.querySelector(':scope > input[checked]') ? 'done' : 'open') : 'dot' }) }, block],
      toDOM: (node) => ['p', { class: 'typing-line', ...(node.attrs.list ? { style: `padding-left: ${onPage(LIST_INDENT)}` } : {}), ...(node.attrs.align ? { 'data-align': node.attrs.align as string } : {}) }, 0],
    },
    text: {},
  },
  marks: {
    bold: { parseDOM: [{ tag: 'strong' }, { tag: 'b' }], toDOM: () => ['span', { style: 'font-weight: 700' }, 0] },
    slant: { parseDOM: [{ tag: 'em' }, { tag: 'i' }], toDOM: () => ['span', { style: 'font-style: italic' }, 0] },
    face: { attrs: { face: {} }, toDOM: (m) => ['span', { style: `font-family: "${FAMILIES[m.attrs.face as Face]}"${hasCuts(m.attrs.face as Face) ? '' : '; font-weight: 400; font-style: normal'}` }, 0] },
    size: { attrs: { size: {} }, toDOM: (m) => ['span', { style: `font-size: ${onPage((m.attrs.size as number) * MM_PER_PT)}` }, 0] },
    color: { attrs: { color: {} }, toDOM: () => ['span', 0] },
    marked: { attrs: { color: {} }, toDOM: () => ['span', 0] },
    // What is typed after a link is no part of it.
    link: { attrs: { name: {} }, inclusive: false, toDOM: () => ['span', 0] },
  },
});

export function marksOf(look: Look): Mark[] {
  const { marks } = schema;
  return [marks.face.create({ face: look.face }), marks.size.create({ size: look.size }), marks.color.create({ color: look.color }), ...(look.bold ? [marks.bold.create()] : []), ...(look.slant ? [marks.slant.create()] : []), ...(look.marked ? [marks.marked.create({ color: look.marked })] : []), ...(look.link ? [marks.link.create({ name: look.link })] : [])];
}

/** What marks do not say is as `usual`. */
export function lookOf(marks: readonly Mark[], usual: Look): Look {
  const by = new Map(marks.map((m) => [m.type.name, m.attrs]));
  return {
    face: (by.get('face')?.face as Face | undefined) ?? usual.face,
    size: (by.get('size')?.size as number | undefined) ?? usual.size,
    color: (by.get('color')?.color as string | undefined) ?? usual.color,
    ...(by.has('bold') ? { bold: true as const } : {}),
    ...(by.has('slant') ? { slant: true as const } : {}),
    ...(by.has('marked') ? { marked: by.get('marked')!.color as string } : {}),
    ...(by.has('link') ? { link: by.get('link')!.name as string } : {}),
  };
}

export function documentOf(lines: readonly Pick<Typed, 'id' | 'text' | 'looks' | 'list' | 'align'>[], begins: Typed['align'] = undefined): Node {
  if (!lines.length) return schema.node('doc', null, [schema.node('line', { id: null, list: null, align: begins ?? null })]);
  return schema.node(
    'doc',
    null,
    lines.map(({ id, text, looks, list, align }) => {
      let at = 0;
      const parts = looks.flatMap(([n, look]) => {
        const part = text.slice(at, at + n);
        at += n;
        return part ? [schema.text(part, marksOf(look))] : [];
      });
      return schema.node('line', { id, list: list ?? null, align: align ?? null }, parts);
    }),
  );
}

/** A line feed within a line, which only foreign text brings, is a blank. */
export function draftsOf(doc: Node, usual: Look): Draft[] {
  const drafts: Draft[] = [];
  doc.forEach((line) => {
    const looks: Run[] = [];
    line.forEach((part) => looks.push([part.text!.length, lookOf(part.marks, usual)]));
    const { id, list, align } = line.attrs as { id: string | null; list: Draft['list'] | null; align: Draft['align'] | null };
    drafts.push({ id, text: line.textContent.replace(/[\n\r]/g, ' '), looks: looks.length ? tidied(looks) : [[0, usual]], ...(list ? { list } : {}), ...(align ? { align } : {}) });
  });
  return drafts;
}

/** Text without markup, a line each. */
export const draftsOfText = (text: string, usual: Look): Draft[] =>
  text.replace(/\r\n?/g, '\n').trim().split('\n').map((line) => ({ id: null, text: line.replace(/\t/g, ' ').trimEnd(), looks: [[line.replace(/\t/g, ' ').trimEnd().length, usual]] }));

/** Markup of others, put to sleep before (`asleep.ts`): lines, lists and emphasis of it, and nothing else. */
export function draftsOfMarkup(markup: string, usual: Look): Draft[] {
  const body = new DOMParser().parseFromString(markup.replace(/\bstyle\s*=/gi, 'kept-style='), 'text/html').body;
  return draftsOf(Reader.fromSchema(schema).parse(body), usual).map((d) => ({ ...d, id: null }));
}
