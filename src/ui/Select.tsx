/** A choice among a few values: the browser's own, which opens as a list on a desk and as a picker on a phone. */
import './controls.css';

export interface SelectProps<V extends number | string> {
  label: string;
  value: V;
  options: readonly { readonly value: V; readonly text: string }[];
  onChange: (value: V) => void;
  /** As a row of a form: the name before the choice, as it stands beside switches. */
  row?: boolean;
  /** Its name is heard and not seen: it stands in a bar whose room is small. */
  bare?: boolean;
}

export function Select<V extends number | string>({ label, value, options, onChange, row = false, bare = false }: SelectProps<V>) {
  // A number that is none of them stands in its place among them.
  const shown = options.some((o) => o.value === value) ? options : [...options, { value, text: String(value) }].sort((a, b) => Number(a.value) - Number(b.value));
  return (
    <label className={row ? 'select select-row' : 'select'}>
      {!bare && <span className="select-label">{label}</span>}
      <select aria-label={label} value={String(value)} onChange={(e) => onChange(shown.find((o) => String(o.value) === e.target.value)!.value)}>
        {shown.map((o) => (
          <option key={o.value} value={String(o.value)}>
            {o.text}
          </option>
        ))}
      </select>
    </label>
  );
}
