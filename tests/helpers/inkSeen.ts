/** What ink there is on the page to see, read from the canvases themselves. */
import type { Page } from '@playwright/test';

/** Places in mm of a page; true where something darker than the ruling lies right there, null out of sight. */
export const inkSeen = (page: Page, number: number, places: readonly (readonly [number, number])[]): Promise<(boolean | null)[]> =>
  page.evaluate(
    ([testid, list]) => {
      const el = document.querySelector(`[data-testid="${testid}"]`)! as HTMLElement;
      const box = el.getBoundingClientRect();
      const k = box.width / 210;
      const view = document.querySelector('.surface-scroller')!.getBoundingClientRect();
      const layers = [...el.querySelectorAll('canvas'), ...document.querySelectorAll<HTMLCanvasElement>('canvas.surface-wet')].map((c) => ({ c, b: c.getBoundingClientRect() }));
      return (list as [number, number][]).map(([x, y]) => {
        const [px, py] = [box.left + x * k, box.top + y * k];
        if (py < view.top + 3 || py > view.bottom - 3) return null;
        return layers.some(({ c, b }) => {
          if (px < b.left - 1 || py < b.top - 1 || px > b.right + 1 || py > b.bottom + 1) return false;
          const [sx, sy] = [c.width / b.width, c.height / b.height];
          const { data } = c.getContext('2d')!.getImageData(Math.round((px - b.left) * sx) - 1, Math.round((py - b.top) * sy) - 1, 3, 3);
          for (let i = 0; i < data.length; i += 4) if (data[i + 3] > 150 && data[i] + data[i + 1] + data[i + 2] < 560) return true;
          return false;
        });
      });
    },
    [`page-${number}`, places] as const,
  );

/** Waits until the page shows what it is to show: at `ms` of the timeline, where that is given. */
export const drawn = (page: Page, ms?: number): Promise<void> => page.locator(`.surface[data-drawn="true"]${ms === undefined ? '' : `[data-at="${ms}"]`}`).waitFor();
