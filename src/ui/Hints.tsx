/** What a symbol is: its name, key and use, when a mouse rests on it, a finger stays on it, or the keyboard comes to it. One listener for all buttons. */
import { useEffect, useRef } from 'react';
import { hintOf } from './hintWords';
import './hints.css';

/** A mouse that rests so long asks, ms; a finger that stays so long does. */
const REST_MS = 500;
const HELD_MS = 550;
/** What a finger asked stays to be read, ms. */
const READ_MS = 3500;

const BUTTONS = 'button[aria-label], [role="button"][aria-label], [role="tab"][aria-label], [role="switch"][aria-label]';
/** The button an event is about; none where a long touch opens a menu. */
function asked(e: Event): HTMLElement | null {
  const el = e.target as Element | null;
  if (!el?.closest || el.closest('[data-held]')) return null;
  return el.closest<HTMLElement>(BUTTONS);
}

export function Hints() {
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const el = host.current!;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let over: HTMLElement | null = null;
    let heldOn: HTMLElement | null = null;
    const hide = () => {
      clearTimeout(timer);
      over = null;
      if (el.matches(':popover-open')) el.hidePopover();
    };
    const show = (button: HTMLElement) => {
      const words = hintOf(button.getAttribute('aria-label') ?? '', button.textContent ?? '');
      if (!words || !button.isConnected) return;
      el.textContent = words;
      // In the browser's top layer, so that it lies over dialogs too.
      el.showPopover();
      const at = button.getBoundingClientRect();
      const { width, height } = el.getBoundingClientRect();
      const below = at.top < height + 12;
      el.style.left = `${Math.min(window.innerWidth - width - 6, Math.max(6, at.left + at.width / 2 - width / 2))}px`;
      el.style.top = `${below ? at.bottom + 8 : at.top - height - 8}px`;
    };
    const enter = (e: PointerEvent) => {
      if (e.pointerType !== 'mouse') return;
      const button = asked(e);
      if (button === over) return;
      hide();
      over = button;
      if (button) timer = setTimeout(() => show(button), REST_MS);
    };
    const down = (e: PointerEvent) => {
      hide();
      heldOn = null;
      const button = asked(e);
      if (!button || e.pointerType === 'mouse') return;
      timer = setTimeout(() => {
        heldOn = button;
        show(button);
        timer = setTimeout(hide, READ_MS);
      }, HELD_MS);
    };
    const up = () => {
      if (!heldOn) clearTimeout(timer);
    };
    // Who asked what a button is did not mean to press it.
    const click = (e: MouseEvent) => {
      if (!heldOn || asked(e) !== heldOn) return void (heldOn = null);
      heldOn = null;
      e.preventDefault();
      e.stopPropagation();
    };
    const focus = (e: FocusEvent) => {
      hide();
      const button = asked(e);
      if (button?.matches(':focus-visible')) show(button);
    };
    const key = (e: KeyboardEvent) => {
      if (e.key === 'Escape' || e.key === 'Enter' || e.key === ' ') hide();
    };
    const listeners: [string, (e: never) => void][] = [['pointerover', enter], ['pointerdown', down], ['pointerup', up], ['pointercancel', up], ['click', click], ['focusin', focus], ['focusout', hide], ['keydown', key], ['scroll', hide], ['wheel', hide]];
    for (const [type, listener] of listeners) document.addEventListener(type, listener as EventListener, { capture: true, passive: type !== 'click' });
    return () => {
      clearTimeout(timer);
      for (const [type, listener] of listeners) document.removeEventListener(type, listener as EventListener, { capture: true });
    };
  }, []);
  return <div ref={host} className="hint" popover="manual" role="tooltip" data-testid="hint" />;
}
