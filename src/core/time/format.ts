/** A duration in ms as a person reads it on a clock: `4:07`, `1:02:07`. Whole seconds, rounded down. */
export function clockText(ms: number): string {
  const s = Math.max(0, Math.floor(ms / 1000));
  const two = (n: number) => String(n).padStart(2, '0');
  const [h, m] = [Math.floor(s / 3600), Math.floor(s / 60) % 60];
  return h > 0 ? `${h}:${two(m)}:${two(s % 60)}` : `${m}:${two(s % 60)}`;
}

/** The same for a screen reader: `1 hour 2 minutes 7 seconds`. */
export function spokenTime(ms: number): string {
  const s = Math.max(0, Math.floor(ms / 1000));
  const unit = (n: number, word: string) => (n > 0 ? `${n} ${word}${n === 1 ? '' : 's'}` : '');
  const words = [unit(Math.floor(s / 3600), 'hour'), unit(Math.floor(s / 60) % 60, 'minute'), unit(s % 60, 'second')];
  return words.filter(Boolean).join(' ') || '0 seconds';
}
