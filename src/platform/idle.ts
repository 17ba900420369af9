/** When the page has nothing to do (W3C, Cooperative Scheduling of Background Tasks): for work that can wait. Gives the way to call it off. */
export function whenIdle(work: () => void): () => void {
  // Not every browser has it.
  if (typeof requestIdleCallback === 'undefined') {
    const timer = setTimeout(work, 200);
    return () => clearTimeout(timer);
  }
  const id = requestIdleCallback(work);
  return () => cancelIdleCallback(id);
}
