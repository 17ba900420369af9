/** How many bytes of pixels the pages on the screen hold: their tiles and the pictures behind them count together. */

/** RGBA. */
export const bytesOfPixels = (w: number, h: number): number => 4 * w * h;

export class PixelRoom {
  private used = 0;

  /** @param most bytes */
  constructor(private readonly most: number) {}

  occupy(bytes: number): void {
    this.used += bytes;
  }

  free(bytes: number): void {
    this.used -= bytes;
  }

  /** Bytes that are left; 0 when tiles, which have to be shown, took more than there is. */
  get left(): number {
    return Math.max(0, this.most - this.used);
  }
}
