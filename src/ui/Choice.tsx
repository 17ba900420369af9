/** One of a few things to choose from, as a radio button, a tab or a switch by its role. */
import './controls.css';

export interface ChoiceProps {
  role: 'radio' | 'tab' | 'button';
  name: string;
  /** For a screen reader, where the name alone says too little. */
  label?: string;
  on: boolean;
  onPress: () => void;
}

export function Choice({ role, name, label, on, onPress }: ChoiceProps) {
  const state = role === 'radio' ? { 'aria-checked': on } : role === 'tab' ? { 'aria-selected': on } : { 'aria-pressed': on };
  return (
    <button type="button" role={role} {...state} aria-label={label} data-on={on} className="choice" onClick={onPress}>
      {name}
    </button>
  );
}
