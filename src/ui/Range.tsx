/** A slider: the browser's own, which brings keyboard, touch and screen reader along. */
import { useEffect, useRef } from 'react';
import './controls.css';

export interface RangeProps {
  label: string;
  min: number;
  max: number;
  step: number;
  value: number;
  /** The value in words, for a screen reader. */
  text: string;
  onChange: (value: number) => void;
  /** Lies unseen over something that shows the value; keys and screen readers find it. */
  unseen?: boolean;
}

export function Range({ label, min, max, step, value, text, onChange, unseen }: RangeProps) {
  const input = useRef<HTMLInputElement>(null);
  const pressed = useRef(false);
  // The value is set from here and not by a controlled input: a controlled one is put back to the old value after every event, and
  // what is being moved (the playing position) only follows a moment later. While a finger holds the knob it is left alone.
  useEffect(() => {
    if (!input.current) return;
    if (!pressed.current) input.current.value = String(value);
    input.current.style.setProperty('--share', `${max > min ? (100 * (value - min)) / (max - min) : 0}%`);
  }, [value, min, max]);
  return (
    <input
      ref={input}
      type="range"
      role="slider"
      className={unseen ? 'range-unseen' : 'range'}
      aria-label={label}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuenow={Math.round(value * 1000) / 1000}
      aria-valuetext={text}
      min={min}
      max={max}
      step={step}
      defaultValue={value}
      onPointerDown={() => {
        pressed.current = true;
      }}
      onPointerUp={() => {
        pressed.current = false;
      }}
      onPointerCancel={() => {
        pressed.current = false;
      }}
      onChange={(e) => onChange(Number(e.target.value))}
    />
  );
}
