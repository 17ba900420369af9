/** The keys go to an element: now, and once more with the next frame, since a dialog that goes gives them back to what had them before it. */
export function takeKeys(el: HTMLElement, still: () => boolean): void {
  el.focus({ preventScroll: true });
  requestAnimationFrame(() => {
    if (still() && !el.contains(document.activeElement)) el.focus({ preventScroll: true });
  });
}
