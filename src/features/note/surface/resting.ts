/** Who types and who rests: what is dear to draw waits for a rest. */

/** Who does not press a key for so long rests, ms. */
const REST_MS = 300;

export class Resting {
  private at = -Infinity;
  private waiting: ReturnType<typeof setTimeout> | undefined;

  pressed(): void {
    this.at = performance.now();
  }

  /** A key was pressed a moment ago; `rested` is called when none comes any more. */
  isBusy(rested: () => void): boolean {
    if (performance.now() - this.at > REST_MS) return false;
    clearTimeout(this.waiting);
    this.waiting = setTimeout(rested, REST_MS + 20);
    return true;
  }

  end(): void {
    clearTimeout(this.waiting);
  }
}
