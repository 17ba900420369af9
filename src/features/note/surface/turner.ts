/** Page by page sideways: which page is open, the way to the next, and the swipe that turns. */

/** A finger has to go so far sideways to turn the page, px. */
const TURN_PX = 56;

export class Turner {
  /** The page that is open, from 0. */
  index = 0;
  private pages = 1;
  private swiped = 0;
  private readonly bar: HTMLElement;
  private readonly count: HTMLElement;
  private readonly buttons: readonly [HTMLButtonElement, HTMLButtonElement];

  constructor(
    parent: HTMLElement,
    private readonly turned: (by: 1 | -1) => void,
  ) {
    this.bar = document.createElement('div');
    this.bar.className = 'turner';
    this.bar.hidden = true;
    const make = (name: string, text: string, by: 1 | -1) => {
      const b = document.createElement('button');
      b.type = 'button';
      b.textContent = text;
      b.setAttribute('aria-label', name);
      b.addEventListener('click', () => this.turn(by));
      return b;
    };
    this.buttons = [make('Previous page', '‹', -1), make('Next page', '›', 1)];
    this.count = document.createElement('span');
    this.count.setAttribute('role', 'status');
    this.bar.append(this.buttons[0], this.count, this.buttons[1]);
    parent.append(this.bar);
  }

  show(on: boolean, pages: number): void {
    this.bar.hidden = !on;
    this.pages = pages;
    this.index = Math.min(this.index, pages - 1);
    this.count.textContent = `${this.index + 1} / ${pages}`;
    this.buttons[0].disabled = this.index === 0;
    this.buttons[1].disabled = this.index === pages - 1;
  }

  turn(by: 1 | -1): void {
    const to = this.index + by;
    if (to < 0 || to >= this.pages) return;
    this.index = to;
    this.turned(by);
  }

  /** A finger moved by dx, dy over a page that has no room to the side, px. */
  swipe(dx: number, dy: number): void {
    this.swiped = Math.abs(dx) > Math.abs(dy) ? this.swiped + dx : this.swiped;
  }

  /** A finger came down: whatever was swiped before is over. */
  begin(): void {
    this.swiped = 0;
  }

  /** The finger lifted; true when that turned the page. */
  end(): boolean {
    const { swiped } = this;
    this.swiped = 0;
    if (Math.abs(swiped) < TURN_PX) return false;
    this.turn(swiped < 0 ? 1 : -1);
    return true;
  }
}
