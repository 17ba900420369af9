/** A choice among a few values: the browser's own, which opens as a list on a desk and as a picker on a phone. */
export interface SelectProps {
  label: string;
  value: number;
  options: readonly { readonly value: number; readonly text: string }[];
  onChange: (value: number) => void;
}

export function Select({ label, value, options, onChange }: SelectProps) {
  const shown = options.some((o) => o.value === value) ? options : [...options, { value, text: String(value) }].sort((a, b) => a.value - b.value);
  return (
    <label className="select">
      <span className="select-label">{label}</span>
      <select aria-label={label} value={String(value)} onChange={(e) => onChange(Number(e.target.value))}>
        {shown.map((o) => (
          <option key={o.value} value={String(o.value)}>
            {o.text}
          </option>
        ))}
      </select>
    </label>
  );
}
