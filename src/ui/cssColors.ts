/** Gives the style sheets the colours of a theme. Through the object model: the page's policy allows no style elements with text. */
import { cssColors, type Theme } from './palette';
import './base.css';

export function showTheme(theme: Theme): void {
  const root = document.documentElement;
  root.dataset.theme = theme;
  const colors = cssColors(theme);
  for (const [name, color] of Object.entries(colors)) root.style.setProperty(`--${name}`, color);
  document.body.style.background = colors.bg;
}
