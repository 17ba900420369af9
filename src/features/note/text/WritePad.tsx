/** A place to write the word, or to draw the sign, whose likes are looked for. */
import { useEffect, useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, Text } from 'react-native-paper';
import type { Trace } from '../../../core/reading/drawing';

/** Of the page on a phone: what is written here is as large as writing is there, mm to a px. */
const MM_PER_PX = 0.25;
const HIGH = 120;
const LINE_PX = 2.2;

/** `onWritten`: all that stands on it, after each stroke. */
export function WritePad({ written, onWritten, onDone }: { written: readonly Trace[]; onWritten: (strokes: readonly Trace[]) => void; onDone: () => void }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const now = useRef<[number, number][] | null>(null);
  const paint = () => {
    const el = canvas.current!;
    const dpr = Math.min(3, window.devicePixelRatio || 1);
    const { width, height } = el.getBoundingClientRect();
    if (el.width !== Math.round(width * dpr)) [el.width, el.height] = [Math.round(width * dpr), Math.round(height * dpr)];
    const ctx = el.getContext('2d')!;
    ctx.setTransform(dpr, 0, 0, dpr, 0, 0);
    ctx.clearRect(0, 0, width, height);
    Object.assign(ctx, { lineWidth: LINE_PX, lineCap: 'round', lineJoin: 'round', strokeStyle: getComputedStyle(el).color });
    for (const stroke of [...written, ...(now.current ? [now.current] : [])]) {
      ctx.beginPath();
      stroke.forEach(([x, y], i) => (i ? ctx.lineTo(x / MM_PER_PX, y / MM_PER_PX) : ctx.moveTo(x / MM_PER_PX, y / MM_PER_PX)));
      ctx.stroke();
    }
  };
  useEffect(paint);
  const at = (e: { clientX: number; clientY: number }): [number, number] => {
    const box = canvas.current!.getBoundingClientRect();
    return [(e.clientX - box.left) * MM_PER_PX, (e.clientY - box.top) * MM_PER_PX];
  };
  const end = (e: React.PointerEvent) => {
    const stroke = now.current;
    now.current = null;
    if (stroke && e.type !== 'pointercancel') onWritten([...written, [...stroke, at(e)]]);
    else paint();
  };
  return (
    <View role="group" aria-label="Write what is looked for" style={styles.all}>
      <canvas
        ref={canvas}
        className="write-pad"
        style={{ height: HIGH }}
        role="img"
        aria-label="Field to write in"
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          now.current = [at(e)];
        }}
        onPointerMove={(e) => {
          if (!now.current) return;
          const events = e.nativeEvent.getCoalescedEvents?.() ?? [];
          now.current.push(...(events.length ? events : [e]).map(at));
          paint();
        }}
        onPointerUp={end}
        onPointerCancel={end}
      />
      <View style={styles.row}>
        <Text variant="bodySmall" style={styles.grow}>
          Write the word, or draw the sign: its likes on these pages are found, in any script.
        </Text>
        <Button compact disabled={!written.length} onPress={() => onWritten([])}>
          Clear
        </Button>
        <Button compact onPress={onDone}>
          Close field
        </Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({ all: { paddingHorizontal: 16, paddingBottom: 8, gap: 4 }, row: { flexDirection: 'row', alignItems: 'center', gap: 4 }, grow: { flex: 1 } });
