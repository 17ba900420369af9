/** A value that changes many times a second, outside the store: the sound level, the playing position. */
export class Live<T> {
  private listeners = new Set<() => void>();
  constructor(private current: T) {}
  get = (): T => this.current;
  set(value: T): void {
    this.current = value;
    for (const l of this.listeners) l();
  }
  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
}
