/** Storage that fails for good after so many writes, as when the program is killed; gives the way to bring it back. */
const WRITES = ['setMany', 'removeMany', 'setItem'] as const;
type Store = Record<(typeof WRITES)[number], (...given: never[]) => Promise<void>>;

export function killAfter(stores: readonly object[], writes: number): () => void {
  let left = writes;
  const undo = (stores as Store[]).flatMap((store) =>
    WRITES.map((name) => {
      const real = store[name];
      store[name] = (...given) => (left-- > 0 ? real.apply(store, given) : Promise.reject(new Error('killed')));
      return () => void (store[name] = real);
    }),
  );
  return () => undo.forEach((f) => f());
}
