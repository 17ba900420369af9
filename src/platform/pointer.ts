/**
 * Who may do what on the page: pen, mouse and fingers, sorted by the rules that keep a resting hand harmless.
 *
 * - A pen or the mouse's main button draws. A pen's eraser end, or its side button while held, erases.
 * - Where only the pen writes, fingers only move the page; elsewhere a single finger draws as well, and a second finger
 *   coming down takes the stroke back and moves the page.
 * - Two or three fingers that touch and lift without moving are a sign of their own.
 * - While the pen is down or has just been, and for contacts as broad as a palm, touches do nothing.
 * - What is marked `data-hold` takes its contacts itself.
 */

export interface Contact {
  readonly x: number;
  readonly y: number;
  /** 0..1; half where the device does not know. */
  readonly pressure: number;
  /** Event time, ms on the time base of performance.now(). */
  readonly time: number;
}

export interface PointerRules {
  /** Drawing is on (Write); otherwise every contact taps or moves the page. */
  readonly draws: boolean;
  readonly onlyPen: boolean;
}

export interface PointerHandlers {
  rules(): PointerRules;
  penSeen(): void;
  /** A pen came down where it does not draw. */
  penIdle(): void;
  begin(at: Contact, erase: boolean): void;
  move(points: readonly Contact[], foretold: readonly Contact[]): void;
  end(): void;
  /** The stroke was no stroke (a second finger came, the system took the pointer). */
  cancel(): void;
  /** `finger`: it was no mouse and no pen. */
  tap(at: Contact, finger: boolean): void;
  /** Two or three fingers touched and lifted. */
  fingersTapped(count: number): void;
  pan(dx: number, dy: number): void;
  /** `by` is the factor since the last call, around a point of the view. */
  pinch(by: number, x: number, y: number): void;
  /** Fingers let go while moving, px per ms. */
  fling(vx: number, vy: number): void;
  /** The first contact is down that will tap or move the page. */
  pressed(at: Contact): void;
}

/** After the pen has left, touches are still taken for the hand for this long, ms. */
const HAND_MS = 500;
/** A contact wider than this is no fingertip, px. */
const PALM_PX = 48;
const TAP_PX = 9;
const TAP_MS = 600;
/** Bits of `buttons` (Pointer Events, section 4.1.3): the eraser end, and the side button. */
const ERASES = 32 | 2;
const FINGERS_TAP_MS = 350;

export function attachPointer(target: HTMLElement, h: PointerHandlers): () => void {
  let drawing: number | null = null;
  let penUntil = -Infinity;
  let drawingTouch = false;
  let drawnPx = 0;
  const fingers = new Map<number, { x: number; y: number; x0: number; y0: number; t0: number; moved: boolean }>();
  let velocity = { vx: 0, vy: 0, t: 0 };
  let tapAllowed = true;
  /** Fingers that came down together since the glass was last free. */
  let together = { count: 0, t0: 0, still: true };

  const contact = (e: PointerEvent): Contact => {
    const box = target.getBoundingClientRect();
    return {
      x: e.clientX - box.left,
      y: e.clientY - box.top,
      pressure: e.pointerType === 'pen' && e.pressure > 0 ? e.pressure : 0.5,
      time: e.timeStamp,
    };
  };

  const down = (e: PointerEvent) => {
    if ((e.target as Element).closest('button, [data-hold]')) return;
    const { draws, onlyPen } = h.rules();
    const pen = e.pointerType === 'pen';
    const touch = e.pointerType === 'touch';
    if (pen) h.penSeen();
    if (touch) {
      if (e.timeStamp < penUntil || (drawing !== null && !drawingTouch)) return;
      if (Math.max(e.width, e.height) > PALM_PX) return;
      together = fingers.size === 0 ? { count: 1, t0: e.timeStamp, still: true } : { ...together, count: together.count + 1 };
    } else if (!pen && e.button !== 0) return;
    if (draws && (!touch || (!onlyPen && fingers.size === 0 && drawing === null))) {
      if (drawing !== null) return;
      // A hand that lay on the glass before the pen came is not moving the page.
      if (pen) fingers.clear();
      e.preventDefault();
      drawing = e.pointerId;
      drawingTouch = touch;
      drawnPx = 0;
      if (touch) fingers.set(e.pointerId, start(e));
      target.setPointerCapture(e.pointerId);
      h.begin(contact(e), pen && (e.buttons & ERASES) !== 0);
      return;
    }
    if (touch && drawing !== null) {
      // The second finger of a pinch: what the first one drew on its way down was not meant.
      drawing = null;
      h.cancel();
    }
    e.preventDefault();
    if (pen) h.penIdle();
    if (fingers.size === 0) {
      tapAllowed = true;
      h.pressed(contact(e));
    } else tapAllowed = false;
    fingers.set(e.pointerId, start(e));
    velocity = { vx: 0, vy: 0, t: e.timeStamp };
    target.setPointerCapture(e.pointerId);
  };

  const start = (e: PointerEvent) => ({ x: e.clientX, y: e.clientY, x0: e.clientX, y0: e.clientY, t0: e.timeStamp, moved: false });

  const move = (e: PointerEvent) => {
    if (e.pointerId === drawing) {
      const all = e.getCoalescedEvents?.() ?? [];
      const points = (all.length ? all : [e]).map(contact);
      const foretold = e.pointerType === 'pen' ? (e.getPredictedEvents?.() ?? []).map(contact) : [];
      drawnPx += Math.hypot(e.movementX, e.movementY);
      if (e.pointerType === 'pen') penUntil = Infinity;
      if (drawnPx > TAP_PX) together.still = false;
      h.move(points, foretold);
      return;
    }
    const finger = fingers.get(e.pointerId);
    if (!finger) return;
    const before = [...fingers.values()].map((f) => ({ x: f.x, y: f.y }));
    const [dx, dy] = [e.clientX - finger.x, e.clientY - finger.y];
    [finger.x, finger.y] = [e.clientX, e.clientY];
    if (!finger.moved && Math.hypot(finger.x - finger.x0, finger.y - finger.y0) < TAP_PX) return;
    if (!finger.moved) {
      finger.moved = true;
      together.still = false;
      tapAllowed = false;
    }
    const n = fingers.size;
    h.pan(dx / n, dy / n);
    const dt = Math.max(1, e.timeStamp - velocity.t);
    velocity = { vx: 0.6 * velocity.vx + (0.4 * dx) / n / dt, vy: 0.6 * velocity.vy + (0.4 * dy) / n / dt, t: e.timeStamp };
    if (n === 2 && !together.still) {
      const [a, b] = [...fingers.values()];
      const was = Math.hypot(before[0].x - before[1].x, before[0].y - before[1].y);
      const is = Math.hypot(a.x - b.x, a.y - b.y);
      const box = target.getBoundingClientRect();
      if (was > 10 && is > 10) h.pinch(is / was, (a.x + b.x) / 2 - box.left, (a.y + b.y) / 2 - box.top);
    }
  };

  const up = (e: PointerEvent) => {
    if (e.pointerId === drawing) {
      drawing = null;
      fingers.delete(e.pointerId);
      if (e.pointerType === 'pen') penUntil = e.timeStamp + HAND_MS;
      h.end();
      return;
    }
    const finger = fingers.get(e.pointerId);
    if (!finger) return;
    fingers.delete(e.pointerId);
    if (e.pointerType === 'touch' && fingers.size === 0 && together.count > 1) {
      if (together.still && e.timeStamp - together.t0 < FINGERS_TAP_MS) h.fingersTapped(together.count);
      else if (finger.moved && e.timeStamp - velocity.t < 60) h.fling(velocity.vx, velocity.vy);
      return;
    }
    if (tapAllowed && !finger.moved && fingers.size === 0 && e.timeStamp - finger.t0 < TAP_MS) h.tap(contact(e), e.pointerType === 'touch');
    else if (fingers.size === 0 && finger.moved && e.timeStamp - velocity.t < 60) h.fling(velocity.vx, velocity.vy);
  };

  const cancel = (e: PointerEvent) => {
    if (e.pointerId === drawing) {
      drawing = null;
      if (e.pointerType === 'pen') penUntil = e.timeStamp + HAND_MS;
      // The system takes a pointer away for reasons of its own; a line already on the way is ink and stays.
      if (drawnPx > 12) h.end();
      else h.cancel();
    }
    fingers.delete(e.pointerId);
  };

  // A pen that hovers keeps the hand quiet before it touches.
  const hover = (e: PointerEvent) => {
    if (e.pointerType === 'pen' && drawing === null && e.buttons === 0) penUntil = e.timeStamp + HAND_MS;
  };

  const noMenu = (e: Event) => e.preventDefault();
  target.addEventListener('pointerdown', down);
  target.addEventListener('pointermove', move);
  target.addEventListener('pointermove', hover);
  target.addEventListener('pointerup', up);
  target.addEventListener('pointercancel', cancel);
  target.addEventListener('contextmenu', noMenu);
  return () => {
    target.removeEventListener('pointerdown', down);
    target.removeEventListener('pointermove', move);
    target.removeEventListener('pointermove', hover);
    target.removeEventListener('pointerup', up);
    target.removeEventListener('pointercancel', cancel);
    target.removeEventListener('contextmenu', noMenu);
  };
}
