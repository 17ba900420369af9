/** A choice among a few values: the browser's own, which opens as a list on a desk and as a picker on a phone. */
import { createElement } from 'react';

export interface SelectProps {
  label: string;
  value: number;
  options: readonly { readonly value: number; readonly text: string }[];
  onChange: (value: number) => void;
}

export function Select({ label, value, options, onChange }: SelectProps) {
  const shown = options.some((o) => o.value === value) ? options : [...options, { value, text: String(value) }].sort((a, b) => a.value - b.value);
  return createElement(
    'label',
    { className: 'select' },
    createElement('span', { className: 'select-label' }, label),
    createElement(
      'select',
      { 'aria-label': label, value: String(value), onChange: (e: { target: { value: string } }) => onChange(Number(e.target.value)) },
      shown.map((o) => createElement('option', { key: o.value, value: String(o.value) }, o.text)),
    ),
  );
}
