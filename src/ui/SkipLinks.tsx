/** The first stops of the keyboard on a screen with much on it: past everything to what one came for. Seen only while they have the focus. */
import './hints.css';

export interface SkipLink {
  readonly name: string;
  /** Selector of what gets the focus; the first that is there. */
  readonly to: string;
}

export const SkipLinks = ({ links }: { links: readonly SkipLink[] }) => (
  <nav aria-label="Skip to" className="skip-links">
    {links.map(({ name, to }) => (
      <button key={name} type="button" onClick={() => document.querySelector<HTMLElement>(to)?.focus()}>
        {name}
      </button>
    ))}
  </nav>
);
