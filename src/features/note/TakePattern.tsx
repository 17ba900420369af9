/** The tint and pattern of a take, as in the time margin. */
import { createElement } from 'react';

export const TakePattern = ({ index }: { index: number }) => createElement('div', { className: `take-swatch take-${index % 5}`, 'aria-hidden': true });
