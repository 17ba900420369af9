/** How far something is: the browser's own bar, with its name. */
import './controls.css';

/** `share`: 0..1. */
export const Progress = ({ name, share, wide = false }: { name: string; share: number; wide?: boolean }) => <progress className="progress" data-wide={wide} aria-label={name} max={100} value={Math.round(100 * Math.min(1, share))} />;
