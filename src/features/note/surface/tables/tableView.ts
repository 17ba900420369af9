/** The table that is typed into: a field over its cell, what is held of it, and grips for its columns and rows. The page draws the table itself. */
import { cssFont, MM_PER_PT } from '../../../../core/text/faces';
import { PX_PER_MM } from '../../../../core/ink/ruler';
import { apply } from '../../../../core/ink/transform';
import type { Box } from '../../../../core/ink/stroke';
import { affineOf, within } from '../../../../core/note/kinds/drawn';
import { CELL_EDGE, cellAt, cellBox, laidTable, shownText, spanAt, type Table } from '../../../../core/note/kinds/table';
import { isOn, rangeOf, type CellPlace } from '../../../../core/note/tableEdits';
import type { Cells } from '../../../../store/tables';
import { onArrows } from '../arrowKeys';
import { Resting } from '../resting';
import { takeKeys } from '../takeKeys';
import type { PageView } from '../pageView';
import './tables.css';

/** Letters need so much to be typed, px. */
const READABLE_PX = 13;

export interface TableHost {
  /** px per mm. */
  readonly scale: number;
  readonly cells: Cells | null;
  viewOf(page: string): PageView | null;
  hold(cells: Cells | null): void;
  typed(text: string): void;
  pasted(text: string): void;
  /** To the next cell or the one before; false when there is none. */
  step(by: -1 | 1): boolean;
  resize(axis: 'row' | 'col', at: number, mm: number): void;
  undo(): void;
  redo(): void;
  reveal(view: PageView, box: Box): void;
  zoomTo(share: number, view: PageView, x: number): void;
  /** The colour of the page, for what is typed over it. */
  ink(color: string): string;
}

export class TableView {
  private readonly el = document.createElement('div');
  private readonly field = document.createElement('textarea');
  private readonly held = document.createElement('div');
  private readonly grips = document.createElement('div');
  private view: PageView | null = null;
  private table: Table | null = null;
  private place = '';
  private readonly resting = new Resting();

  constructor(private readonly host: TableHost) {
    const { el, field, held, grips } = this;
    el.className = 'table-view';
    el.dataset.hold = 'true';
    held.className = 'table-held';
    grips.className = 'table-grips';
    field.className = 'table-field';
    field.rows = 1;
    field.dataset.testid = 'table-field';
    field.spellcheck = true;
    el.append(held, field, grips);
    field.addEventListener('input', () => {
      this.resting.pressed();
      host.typed(field.value);
    });
    field.addEventListener('keydown', (e) => this.key(e));
    field.addEventListener('paste', (e) => {
      const text = e.clipboardData?.getData('text/plain') ?? '';
      if (!/[\t\n]/.test(text)) return;
      e.preventDefault();
      host.pasted(text);
    });
    // Keys and touches here are the table's: the page and its keys are not meant.
    for (const type of ['keydown', 'keyup', 'paste', 'copy', 'cut', 'pointerdown', 'pointerup'] as const) el.addEventListener(type, (e) => e.stopPropagation());
  }

  /** A key was pressed a moment ago; `rested` is called when none comes any more. */
  isBusy(rested: () => void): boolean {
    return this.resting.isBusy(rested);
  }

  get isOpen(): boolean {
    return this.table !== null;
  }

  /** The table at a place of a page, mm: its cell is held. False when there is none. */
  at(view: PageView, x: number, y: number, to?: { x: number; y: number }): boolean {
    const table = view.placed.findLast((it): it is Table => it.kind === 'table' && isOn(it, x, y));
    if (!table) return false;
    const from = this.cell(table, x, y);
    this.host.hold({ page: view.page.id, table: table.id, from, to: to ? this.cell(table, to.x, to.y) : from });
    return true;
  }

  private cell(table: Table, x: number, y: number): CellPlace {
    const { r, c } = cellAt(table, x, y);
    const [r0, c0] = spanAt(table, r, c);
    return { r: r0, c: c0 };
  }

  /** After every change of the note or of what is held. */
  update(): void {
    const { host, field } = this;
    const { cells } = host;
    const view = cells && host.viewOf(cells.page);
    const table = view?.placed.find((it): it is Table => it.kind === 'table' && it.id === cells!.table);
    if (!cells || !view || !table) return this.close();
    const place = `${table.id} ${cells.from.r} ${cells.from.c}`;
    const isOther = place !== this.place;
    const isSame = !isOther && table === this.table && this.view === view;
    [this.view, this.table, this.place] = [view, table, place];
    if (this.el.parentElement !== view.ground) view.ground.append(this.el);
    const cell = table.cells[cells.from.r]?.[cells.from.c];
    const text = cell?.sum ? shownText(table, cells.from.r, cells.from.c) : (cell?.text ?? '');
    field.readOnly = cell?.sum !== undefined;
    if (field.value !== text && !isSame) field.value = text;
    field.setAttribute('aria-label', `${cell?.sum ? 'Sum, row' : 'Row'} ${cells.from.r + 1}, column ${cells.from.c + 1} of the table`);
    this.lay();
    // After a press on the bar one types on.
    if (!isOther && !isSame && document.activeElement?.closest('[role="toolbar"]')) takeKeys(field, () => this.place === place);
    if (!isOther) return;
    takeKeys(field, () => this.place === place);
    field.select();
    const size = table.look.size * MM_PER_PT;
    if (size * host.scale < READABLE_PX) host.zoomTo(READABLE_PX / size / PX_PER_MM, view, table.box[0] - 3);
    const { x, y, w, h } = cellBox(table, cells.from.r, cells.from.c);
    const to = affineOf(table.m);
    const corners = [apply(to, x, y), apply(to, x + w, y + h)];
    host.reveal(view, [Math.min(corners[0][0], corners[1][0]), Math.min(corners[0][1], corners[1][1]), Math.max(corners[0][0], corners[1][0]), Math.max(corners[0][1], corners[1][1])]);
  }

  lay(): void {
    const { table, host, field, held } = this;
    const { cells } = host;
    if (!table || !cells) return;
    const k = host.scale;
    const [a, b, c, d, e, f] = table.m;
    this.el.style.transform = `matrix(${a},${b},${c},${d},${e * k},${f * k})`;
    const put = (el: HTMLElement, x: number, y: number, w: number, h: number) => Object.assign(el.style, { left: `${x * k}px`, top: `${y * k}px`, width: `${w * k}px`, height: `${h * k}px` });
    const at = cellBox(table, cells.from.r, cells.from.c);
    put(field, at.x, at.y, at.w, at.h);
    const { look } = table;
    const size = look.size * MM_PER_PT * k;
    field.style.font = cssFont(look, size);
    field.style.lineHeight = String(1.25);
    field.style.color = host.ink(look.color);
    field.style.padding = `${CELL_EDGE * k}px`;
    const [r0, c0, rows, cols] = rangeOf(cells);
    held.hidden = rows * cols === 1;
    if (rows * cols > 1) {
      const { xs, ys } = laidTable(table);
      put(held, xs[c0], ys[r0], xs[c0 + cols] - xs[c0], ys[r0 + rows] - ys[r0]);
    }
    this.layGrips(k);
  }

  private layGrips(k: number): void {
    const { table, grips } = this;
    const { xs, ys } = laidTable(table!);
    const key = `${k} ${xs.join()} ${ys.join()}`;
    if (grips.dataset.of === key) return;
    grips.dataset.of = key;
    const wanted = [...xs.slice(1).map((_, i) => ['col', i] as const), ...ys.slice(1).map((_, i) => ['row', i] as const)];
    const same = grips.childElementCount === wanted.length && wanted.every(([axis, i], n) => (grips.children[n] as HTMLElement).dataset.grip === `${axis}${i}`);
    if (!same) grips.replaceChildren(...wanted.map(([axis, i]) => this.grip(axis, i)));
    wanted.forEach(([axis, i], n) => {
      const button = grips.children[n] as HTMLElement;
      const list = axis === 'row' ? ys : xs;
      const name = `${axis === 'row' ? 'Height of row' : 'Width of column'} ${i + 1}, ${Math.round(list[i + 1] - list[i])} mm. Arrow keys change it.`;
      if (button.getAttribute('aria-label') !== name) button.setAttribute('aria-label', name);
      button.style[axis === 'row' ? 'top' : 'left'] = `${list[i + 1] * k}px`;
    });
  }

  private grip(axis: 'row' | 'col', i: number): HTMLElement {
    const button = document.createElement('button');
    button.type = 'button';
    button.className = 'table-grip';
    button.dataset.axis = axis;
    button.dataset.grip = `${axis}${i}`;
    button.style[axis === 'row' ? 'left' : 'top'] = '0px';
    button.addEventListener('pointerdown', (e) => this.drag(e, axis, i));
    onArrows(button, (dx, dy, far) => {
      const { xs, ys } = laidTable(this.table!);
      const list = axis === 'row' ? ys : xs;
      this.host.resize(axis, i, list[i + 1] - list[i] + (dx + dy) * (far ? 5 : 1));
    });
    return button;
  }

  /** A border follows the hand; the table changes when it lets go. */
  private drag(e: PointerEvent, axis: 'row' | 'col', at: number): void {
    e.preventDefault();
    const { view, table, host } = this;
    if (!view || !table) return;
    const button = e.currentTarget as HTMLElement;
    button.setPointerCapture(e.pointerId);
    const { xs, ys } = laidTable(table);
    const own = (m: PointerEvent): number => {
      const box = view.ground.getBoundingClientRect();
      const [u, v] = within(table.m, (m.clientX - box.left) / host.scale, (m.clientY - box.top) / host.scale);
      return axis === 'row' ? v : u;
    };
    const from = own(e);
    let size: number | null = null;
    const list = axis === 'row' ? ys : xs;
    const moved = (m: PointerEvent) => {
      size = list[at + 1] - list[at] + own(m) - from;
      button.style[axis === 'row' ? 'top' : 'left'] = `${(list[at] + Math.max(4, size)) * host.scale}px`;
    };
    const end = (kept: boolean) => () => {
      button.removeEventListener('pointermove', moved);
      button.removeEventListener('pointerup', up);
      button.removeEventListener('pointercancel', lost);
      this.grips.dataset.of = '';
      if (kept && size !== null) host.resize(axis, at, size);
      else this.lay();
    };
    const [up, lost] = [end(true), end(false)];
    button.addEventListener('pointermove', moved);
    button.addEventListener('pointerup', up);
    button.addEventListener('pointercancel', lost);
  }

  private key(e: KeyboardEvent): void {
    const { host, field, table } = this;
    const { cells } = host;
    if (!table || !cells || e.isComposing) return;
    const done = () => e.preventDefault();
    const mod = e.ctrlKey || e.metaKey;
    const { r, c } = cells.from;
    const to = (dr: number, dc: number, extend = false) => {
      const at = extend ? cells.to : { r: dr > 0 ? spanAt(table, r, c)[0] + spanAt(table, r, c)[2] - 1 : r, c: dc > 0 ? spanAt(table, r, c)[1] + spanAt(table, r, c)[3] - 1 : c };
      const next = { r: at.r + dr, c: at.c + dc };
      if (next.r < 0 || next.c < 0 || next.r >= table.rows.length || next.c >= table.cols.length) return false;
      const [r0, c0] = spanAt(table, next.r, next.c);
      host.hold(extend ? { ...cells, to: next } : { ...cells, from: { r: r0, c: c0 }, to: { r: r0, c: c0 } });
      return true;
    };
    if (mod && e.key.toLowerCase() === 'z') {
      done();
      return e.shiftKey ? host.redo() : host.undo();
    }
    if (mod && e.key.toLowerCase() === 'y') {
      done();
      return host.redo();
    }
    if (mod || e.altKey) return;
    const [start, end, length] = [field.selectionStart, field.selectionEnd, field.value.length];
    const all = start === 0 && end === length;
    if (e.key === 'Escape') {
      done();
      host.hold(null);
    } else if (e.key === 'Tab') {
      // Beyond its cells the key leaves the table, as everywhere.
      if (host.step(e.shiftKey ? -1 : 1)) done();
    } else if (e.key === 'Enter') {
      done();
      if (!to(e.shiftKey ? -1 : 1, 0) && !e.shiftKey) {
        host.hold({ ...cells, from: { r, c: table.cols.length - 1 }, to: { r, c: table.cols.length - 1 } });
        if (host.step(1)) host.hold({ ...cells, from: { r: r + 1, c }, to: { r: r + 1, c } });
      }
    } else if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
      if (to(e.key === 'ArrowUp' ? -1 : 1, 0, e.shiftKey)) done();
    } else if (e.key === 'ArrowLeft' && (all || (start === 0 && end === 0))) {
      if (to(0, -1, e.shiftKey)) done();
    } else if (e.key === 'ArrowRight' && (all || (start === length && end === length))) {
      if (to(0, 1, e.shiftKey)) done();
    } else if ((e.key === 'Delete' || e.key === 'Backspace') && field.readOnly) {
      done();
      host.typed('');
    }
  }

  /** Words into the cell that is held; false when none is. */
  insert(words: string): boolean {
    const { field } = this;
    if (!this.isOpen || field.readOnly) return false;
    const before = field.value.slice(0, field.selectionStart);
    field.setRangeText(before && !/\s$/.test(before) ? ` ${words}` : words, field.selectionStart, field.selectionEnd, 'end');
    this.resting.pressed();
    this.host.typed(field.value);
    return true;
  }

  /** The pages go. */
  end(): void {
    this.resting.end();
    this.close();
  }

  close(): void {
    if (this.el.contains(document.activeElement)) (document.activeElement as HTMLElement).blur();
    this.el.remove();
    this.view = this.table = null;
    this.place = '';
  }
}
