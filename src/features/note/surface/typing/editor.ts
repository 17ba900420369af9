/** The editor over the lines of a flow. What is seen is what the page draws: the editor's own letters are see-through, it has the caret and what is marked. */
import { baseKeymap, toggleMark } from 'prosemirror-commands';
import { keymap } from 'prosemirror-keymap';
import { EditorState, Selection, TextSelection, type Transaction } from 'prosemirror-state';
import { EditorView } from 'prosemirror-view';
import type { Typed } from '../../../../core/note/kinds/typed';
import { asleep } from '../../../../platform/asleep';
import { cssFont, MM_PER_PT, type Look } from '../../../../core/text/faces';
import type { Draft, Place } from '../../../../core/text/flow';
import type { Flowed } from '../../../../store/typing';
import { takeKeys } from '../takeKeys';
import { documentOf, draftsOf, lookOf, marksOf, schema } from './document';
import './typing.css';

/** How what is typed next looks. */
export interface Typing {
  readonly look: Look;
  readonly list: Typed['list'] | null;
  readonly align: Typed['align'] | null;
}

export interface TypingHost {
  typed(place: Place, drafts: readonly Draft[], time: number): Flowed | null;
  /** The line in which the caret is went on to another page. */
  wentOn(line: Typed, index: number): void;
  /** How it looks where the caret stands. */
  at(typing: Typing): void;
  /** Where the caret stands now, px of the window. */
  caret(box: { readonly left: number; readonly right: number; readonly top: number; readonly bottom: number }): void;
  undo(): void;
  redo(): void;
  closed(): void;
}

/** What begins a list, when a blank follows it at the beginning of a line. */
const BEGINS: Readonly<Record<string, NonNullable<Typed['list']>>> = { '-': 'dot', '*': 'dot', '1.': 'number', '[]': 'open', '[x]': 'done' };

const isSame = (a: readonly Draft[], b: readonly Draft[]) => JSON.stringify(a) === JSON.stringify(b);

export class TypingEditor {
  readonly el = document.createElement('div');
  private readonly view: EditorView;
  private time = performance.now();
  private frame = 0;
  /** What the note has of it, as far as the editor made it. */
  private own: readonly Typed[] = [];
  private sending = false;

  constructor(
    parent: HTMLElement,
    readonly place: Place,
    lines: readonly Typed[],
    private typing: Typing,
    private k: number,
    private readonly host: TypingHost,
    at: { line: string; index: number } | null,
  ) {
    this.el.className = 'typing';
    parent.append(this.el);
    const when = (_: EditorView, e: Event) => {
      this.time = e.timeStamp;
      return false;
    };
    this.view = new EditorView(this.el, {
      state: this.stateOf(lines),
      dispatchTransaction: (tr) => this.dispatch(tr),
      attributes: { role: 'textbox', 'aria-multiline': 'true', 'aria-label': 'Typed text', spellcheck: 'true', autocapitalize: 'sentences' },
      handleDOMEvents: { keydown: when, beforeinput: when, paste: when, drop: when, compositionupdate: when },
      // How it looked there is left behind, and told by the page's policy even where it is only read.
      transformPastedHTML: (html) => asleep(html).replace(/\bstyle\s*=/gi, 'kept-style='),
      // Done by the page, which knows what stands before it.
      handleScrollToSelection: () => true,
      handleTextInput: (_, from, to, text) => this.begunList(from, to, text),
    });
    // Keys and touches here are the editor's: the page and its keys are not meant.
    for (const type of ['keydown', 'keyup', 'paste', 'copy', 'cut', 'pointerdown', 'pointerup'] as const) this.el.addEventListener(type, (e) => e.stopPropagation());
    this.lay(k);
    const line = at && this.positionOf(at.line);
    const selection = line != null ? TextSelection.create(this.view.state.doc, line + 1 + at!.index) : Selection.atEnd(this.view.state.doc);
    this.view.dispatch(this.view.state.tr.setSelection(selection));
    this.view.focus();
  }

  private stateOf(lines: readonly Typed[], selection?: number): EditorState {
    const doc = documentOf(lines, this.place.align);
    const act = (what: () => void) => () => {
      what();
      return true;
    };
    const state = EditorState.create({
      doc,
      plugins: [
        keymap({
          Enter: (s, dispatch) => this.enter(s, dispatch),
          Backspace: (s, dispatch) => this.leaveList(s, dispatch),
          'Mod-b': toggleMark(schema.marks.bold),
          'Mod-i': toggleMark(schema.marks.slant),
          'Mod-z': act(() => this.host.undo()),
          'Mod-y': act(() => this.host.redo()),
          'Shift-Mod-z': act(() => this.host.redo()),
          Escape: act(() => this.host.closed()),
        }),
        keymap(baseKeymap),
      ],
    });
    return selection === undefined ? state : state.apply(state.tr.setSelection(Selection.near(doc.resolve(Math.min(selection, doc.content.size)))));
  }

  /** It is one of the lines here. */
  has(id: string): boolean {
    return this.positionOf(id) !== null;
  }

  private positionOf(id: string): number | null {
    let found: number | null = null;
    this.view.state.doc.forEach((line, offset) => {
      if (line.attrs.id === id) found = offset;
    });
    return found;
  }

  private enter(state: EditorState, dispatch?: (tr: Transaction) => void): boolean {
    const { $from, empty } = state.selection;
    // An empty line of a list ends it.
    if (empty && $from.parent.attrs.list && $from.parent.content.size === 0) {
      dispatch?.(state.tr.setNodeMarkup($from.before(), null, { ...$from.parent.attrs, list: null }));
      return true;
    }
    const { list, align } = $from.parent.attrs as { list: string | null; align: string | null };
    if (dispatch) {
      const { tr } = state;
      if (!empty) tr.deleteSelection();
      dispatch(tr.split(tr.selection.from, 1, [{ type: schema.nodes.line, attrs: { id: null, list: list === 'done' ? 'open' : list, align } }]).setStoredMarks(marksOf(this.typing.look)));
    }
    return true;
  }

  private leaveList(state: EditorState, dispatch?: (tr: Transaction) => void): boolean {
    const { $from, empty } = state.selection;
    if (!empty || $from.parentOffset > 0 || !$from.parent.attrs.list) return false;
    dispatch?.(state.tr.setNodeMarkup($from.before(), null, { ...$from.parent.attrs, list: null }));
    return true;
  }

  private begunList(from: number, to: number, text: string): boolean {
    const { state } = this.view;
    const { $from } = state.selection;
    const list = text === ' ' && from === to && !$from.parent.attrs.list && BEGINS[$from.parent.textBetween(0, $from.parentOffset)];
    if (!list) return false;
    this.view.dispatch(state.tr.delete($from.start(), from).setNodeMarkup($from.before(), null, { ...$from.parent.attrs, list }));
    return true;
  }

  private dispatch(tr: Transaction): void {
    const { view } = this;
    const { look } = this.typing;
    let state = view.state.apply(tr);
    if (tr.docChanged) {
      // What was pasted, or typed where nothing stood, looks as it was wanted.
      const fill = state.tr;
      state.doc.descendants((node, pos) => {
        if (node.isText && !schema.marks.face.isInSet(node.marks)) for (const mark of marksOf(lookOf(node.marks, look))) fill.addMark(pos, pos + node.nodeSize, mark);
      });
      if (fill.docChanged) state = state.apply(fill);
      // The note tells of what comes from here while it is on its way.
      this.sending = true;
      let flowed: Flowed | null;
      try {
        flowed = this.host.typed(this.place, draftsOf(state.doc, look), this.time);
      } finally {
        this.sending = false;
      }
      if (!flowed) return;
      const lines = (this.own = flowed.here);
      // Lines went on to the next page, or came back from there.
      if (flowed.beyond.length ? lines.length !== state.doc.childCount : lines.length > state.doc.childCount) {
        const { $head } = state.selection;
        const at = $head.index(0);
        const { parentOffset } = $head;
        view.updateState(this.stateOf(lines, state.selection.head));
        // After the editor has done with what it was told: it makes way for another.
        const went = flowed.beyond[at - lines.length];
        if (at >= lines.length) queueMicrotask(() => this.host.wentOn(went, parentOffset));
        return;
      }
      const name = state.tr;
      let n = 0;
      state.doc.forEach((line, offset) => {
        const id = lines[n++]?.id ?? null;
        if (line.attrs.id !== id) name.setNodeMarkup(offset, null, { ...line.attrs, id });
      });
      if (name.docChanged) state = state.apply(name.setStoredMarks(state.storedMarks));
    }
    view.updateState(state);
    if (tr.selectionSet || tr.docChanged || tr.storedMarksSet) {
      this.tell();
      this.showCaret();
    }
  }

  /** The caret stays in sight, and clear of the time margin. */
  private showCaret(): void {
    // With the next frame: asked for at once, the browser would have to lay out the page for every key.
    cancelAnimationFrame(this.frame);
    this.frame = requestAnimationFrame(() => {
      const { left, right, top, bottom } = this.view.coordsAtPos(this.view.state.selection.head);
      this.host.caret({ left, right, top, bottom });
    });
  }

  private tell(): void {
    const { state } = this.view;
    const { $from } = state.selection;
    const { list, align } = $from.parent.attrs as { list: Typed['list'] | null; align: Typed['align'] | null };
    const marks = state.storedMarks ?? $from.marks();
    // What is typed next is no part of a link.
    const { link: _, ...look } = marks.length ? lookOf(marks, this.typing.look) : this.typing.look;
    const typing = { look, list, align };
    if (JSON.stringify(typing) === JSON.stringify(this.typing)) return;
    this.typing = typing;
    this.host.at(typing);
  }

  /** How it is to look was chosen: what is marked, or what is typed next, takes it. */
  want(typing: Typing): void {
    if (JSON.stringify(typing) === JSON.stringify(this.typing)) return;
    const { state } = this.view;
    const { from, to, empty } = state.selection;
    const [before, tr] = [this.typing, state.tr];
    this.typing = typing;
    if (typing.list !== before.list || typing.align !== before.align) {
      state.doc.nodesBetween(from, to, (node, pos) => {
        if (node.type === schema.nodes.line) tr.setNodeMarkup(pos, null, { ...node.attrs, ...(typing.list !== before.list ? { list: typing.list } : {}), ...(typing.align !== before.align ? { align: typing.align } : {}) });
      });
    }
    if (JSON.stringify(typing.look) !== JSON.stringify(before.look)) {
      const changed = marksOf(typing.look).filter((mark) => !marksOf(before.look).some((m) => m.eq(mark)));
      const gone = (['bold', 'slant', 'marked'] as const).filter((name) => !typing.look[name] && before.look[name]);
      if (!empty) {
        for (const name of gone) tr.removeMark(from, to, schema.marks[name]);
        for (const mark of changed) tr.addMark(from, to, mark);
      }
      tr.setStoredMarks(marksOf(typing.look));
    }
    this.time = performance.now();
    this.view.dispatch(tr);
    this.lay(this.k);
    this.view.focus();
  }

  /** Words that were not typed. */
  insert(words: string): void {
    this.time = performance.now();
    const { state } = this.view;
    const { $from } = state.selection;
    const before = $from.parent.textBetween(0, $from.parentOffset);
    this.view.dispatch(state.tr.insertText(before && !/\s$/.test(before) ? ` ${words}` : words));
  }

  /** What is marked, line by line; without a mark the word at the caret. */
  letters(): { line: string; from: number; to: number }[] {
    const { doc, selection } = this.view.state;
    const { $from, empty } = selection;
    let [from, to] = [selection.from, selection.to];
    if (empty) {
      const text = $from.parent.textContent;
      while (from > $from.start() && /\S/.test(text[from - $from.start() - 1])) from--;
      while (to < $from.end() && /\S/.test(text[to - $from.start()])) to++;
    }
    const out: { line: string; from: number; to: number }[] = [];
    doc.nodesBetween(from, to, (node, pos) => {
      if (node.type !== schema.nodes.line) return false;
      const [a, b] = [Math.max(0, from - pos - 1), Math.min(node.content.size, to - pos - 1)];
      if (a < b && node.attrs.id) out.push({ line: node.attrs.id as string, from: a, to: b });
      return false;
    });
    return out;
  }

  toCaret(still: () => boolean): void {
    takeKeys(this.view.dom, still);
    // The browser's own caret is put where the editor's is, which may have moved while others had the keys.
    requestAnimationFrame(() => still() && this.view.focus());
  }

  /** The note has other lines than the editor: they were undone, or came from elsewhere. */
  follow(lines: readonly Typed[]): void {
    if (this.sending || this.view.composing || (lines.length === this.own.length && lines.every((it, i) => it.id === this.own[i].id && it.text === this.own[i].text && it.looks === this.own[i].looks && it.list === this.own[i].list && it.align === this.own[i].align))) return;
    this.own = lines;
    const { state } = this.view;
    const now = lines.map(({ id, text, looks, list, align }) => ({ id, text, looks, ...(list ? { list } : {}), ...(align ? { align } : {}) }));
    const had = draftsOf(state.doc, this.typing.look);
    if (isSame(now, had) || (!now.length && had.length === 1 && had[0].text === '')) return;
    const next = this.stateOf(lines);
    // The caret goes to the end of what changed.
    const end = state.doc.content.findDiffEnd(next.doc.content)?.b ?? state.selection.from;
    this.view.updateState(next.apply(next.tr.setSelection(Selection.near(next.doc.resolve(Math.min(end, next.doc.content.size)), -1))));
    this.showCaret();
  }

  /** Pages lie elsewhere, or are shown at another scale. `k`: px per mm. */
  lay(k: number): void {
    const { style } = this.el;
    const [a, b, c, d, e, f] = this.place.m;
    this.k = k;
    style.setProperty('--k', String(k));
    style.width = `${this.place.width * k}px`;
    // Of what stands in it every letter says itself whether it is bold or slanted.
    const { face, size, color } = this.typing.look;
    style.font = cssFont({ face, size, color }, size * MM_PER_PT * k);
    style.lineHeight = `${this.place.pitch * k}px`;
    // How far below its top a line has its foot line (px) depends on the face: it is looked up.
    const probe = document.createElement('span');
    probe.className = 'typing-probe';
    const line = document.createElement('p');
    line.className = 'typing-line';
    line.append(probe);
    this.el.append(line);
    const foot = probe.offsetTop + probe.offsetHeight;
    line.remove();
    style.transform = `matrix(${a}, ${b}, ${c}, ${d}, ${e * k}, ${f * k}) translateY(${this.place.pitch * k - foot}px)`;
  }

  destroy(): void {
    cancelAnimationFrame(this.frame);
    this.view.destroy();
    this.el.remove();
  }
}
