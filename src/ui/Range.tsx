/** A slider: the browser's own, which brings keyboard, touch and screen reader along. */
import { createElement } from 'react';

export interface RangeProps {
  label: string;
  min: number;
  max: number;
  step: number;
  value: number;
  /** The value in words, for a screen reader. */
  text: string;
  onChange: (value: number) => void;
  disabled?: boolean;
  playhead?: boolean;
}

export function Range({ label, min, max, step, value, text, onChange, disabled, playhead }: RangeProps) {
  return createElement('input', {
    type: 'range',
    role: 'slider',
    className: playhead ? 'range playhead' : 'range',
    'aria-label': label,
    'aria-valuemin': min,
    'aria-valuemax': max,
    'aria-valuenow': Math.round(value * 1000) / 1000,
    'aria-valuetext': text,
    min,
    max,
    step,
    value,
    disabled,
    onChange: (e: { target: { value: string } }) => onChange(Number(e.target.value)),
  });
}
