/** The timeline in the deck: touch or drag to go anywhere, pinch or Ctrl and wheel to look closer. The slider under it is for keys and screen readers. */
import { memo, useEffect, useRef, useState } from 'react';
import { View } from 'react-native';
import { useTheme } from 'react-native-paper';
import { pausesOf } from '../../../core/audio/speech';
import type { NoteHeader } from '../../../core/note/schema';
import { clockText, spokenTime } from '../../../core/time/format';
import { stretchesOnTimeline } from '../../../core/time/onTimeline';
import { toTimeline } from '../../../core/time/timeline';
import { selectReview, selectSpeech, selectWriting } from '../../../store/listening';
import { letGo, position, seek, takeAt } from '../../../store/playing';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { MARK_SHAPES } from '../../../ui/markShapes';
import { MARK_ROLES, timelineColors } from '../../../ui/palette';
import './timeline.css';
import { Range } from '../../../ui/Range';
import { useFrame, useLive } from '../../../ui/useLive';
import { drawTimeline, TAKE_PX } from './timelineDrawing';
import { CLOSEST_MS, timelineZoom, zoomTimeline } from './timelineZoom';
import '../../../ui/takes.css';

const HEIGHT = 62;
/** Pauses shorter than this are not worth drawing, ms. */
const PAUSE_MS = 700;

export function TimelineBar({ length }: { length: number }) {
  const dispatch = useAppDispatch();
  const { dark } = useTheme();
  const header = useAppSelector((s) => s.note.note!.header);
  const { takes, timeline, marks } = header;
  const heard = useAppSelector((s) => s.hearing.takes);
  const speech = useAppSelector(selectSpeech);
  const writing = useAppSelector(selectWriting);
  const gaps = useAppSelector((s) => selectReview(s)?.coverage.gaps);
  const repeat = useAppSelector((s) => s.playback.repeat);
  const share = useLive(timelineZoom);
  const [width, setWidth] = useState(0);
  const canvas = useRef<HTMLCanvasElement>(null);
  const host = useRef<HTMLDivElement>(null);
  const at = useFrame(() => Math.min(length, Math.round(dispatch(position()) / 100) * 100), true);
  const [under, setUnder] = useState<number | null>(null);

  // The view: all of it, or a window that the position stays in.
  const shown = Math.max(Math.min(length, CLOSEST_MS), length * share);
  const [start, setStart] = useState(0);
  const inWindow = at >= start && at <= start + shown * 0.92;
  const wanted = Math.max(0, Math.min(length - shown, inWindow && share < 1 ? start : at - shown * 0.3));
  if (Math.abs(wanted - start) > 0.5 && under === null) setStart(wanted);
  const [from, to] = [start, start + shown];

  useEffect(() => {
    if (!host.current) return;
    const watch = new ResizeObserver(([e]) => setWidth(Math.round(e.contentRect.width)));
    watch.observe(host.current);
    return () => watch.disconnect();
  }, []);

  useEffect(() => {
    const el = canvas.current;
    if (!el || !width) return;
    const dpr = Math.min(3, window.devicePixelRatio || 1);
    el.width = Math.round(width * dpr);
    el.height = Math.round(HEIGHT * dpr);
    drawTimeline(
      el.getContext('2d')!,
      { from, to, width, height: HEIGHT, dpr },
      { timeline, heard, writing, gaps: gaps ?? [], pauses: speech ? pausesOf(speech, length, PAUSE_MS) : [], repeat },
      timelineColors(dark ? 'dark' : 'light'),
    );
  }, [from, to, width, timeline, heard, writing, gaps, speech, repeat, dark, length]);

  const timeOf = (clientX: number): number => {
    const box = host.current!.getBoundingClientRect();
    return Math.min(length, Math.max(0, from + ((clientX - box.left) / box.width) * (to - from)));
  };
  const fingers = useRef(new Map<number, number>());
  const pinch = useRef(0);
  const down = (e: React.PointerEvent) => {
    host.current!.setPointerCapture(e.pointerId);
    fingers.current.set(e.pointerId, e.clientX);
    if (fingers.current.size > 1) {
      setUnder(null);
      const [a, b] = [...fingers.current.values()];
      pinch.current = Math.abs(a - b);
      return;
    }
    setUnder(timeOf(e.clientX));
  };
  const move = (e: React.PointerEvent) => {
    if (!fingers.current.has(e.pointerId)) return;
    fingers.current.set(e.pointerId, e.clientX);
    if (fingers.current.size > 1) {
      const [a, b] = [...fingers.current.values()];
      const now = Math.abs(a - b);
      if (pinch.current > 10 && now > 10) zoomTimeline(now / pinch.current, length);
      pinch.current = now;
      return;
    }
    setUnder(timeOf(e.clientX));
  };
  const up = (e: React.PointerEvent) => {
    const single = fingers.current.size === 1;
    fingers.current.delete(e.pointerId);
    if (single && under !== null) {
      if (repeat) dispatch(letGo());
      dispatch(seek(timeOf(e.clientX)));
    }
    setUnder(null);
  };
  // The wheel is listened to by hand: React's own listener cannot keep the browser from zooming the page.
  useEffect(() => {
    const el = host.current;
    if (!el) return;
    const wheel = (e: WheelEvent) => {
      if (!e.ctrlKey) return;
      e.preventDefault();
      zoomTimeline(Math.exp(-e.deltaY / 300), length);
    };
    el.addEventListener('wheel', wheel, { passive: false });
    return () => el.removeEventListener('wheel', wheel);
  }, [length]);

  const x = (ms: number) => ((ms - from) / (to - from)) * 100;
  const take = takeAt(header, at)?.name;
  return (
    <View style={{ flex: 1, minWidth: 0 }}>
      <div className="timeline" ref={host} style={{ height: HEIGHT }} onPointerDown={down} onPointerMove={move} onPointerUp={up} onPointerCancel={() => (fingers.current.clear(), setUnder(null))} data-testid="timeline" data-from={Math.round(from)} data-to={Math.round(to)}>
        <canvas ref={canvas} style={{ width, height: HEIGHT }} aria-hidden />
        <Standing timeline={timeline} takes={takes} marks={marks} from={from} to={to} />
        <div className="timeline-head" style={{ left: `${x(under ?? at)}%` }} />
        {under !== null && (
          <div className="timeline-under" style={{ left: `${Math.min(92, Math.max(8, x(under)))}%` }}>
            {clockText(under)}
          </div>
        )}
        <Range label="Playback position" unseen min={0} max={length} step={100} value={at} text={`${spokenTime(at)} of ${spokenTime(length)}${take ? `, ${take}` : ''}`} onChange={(ms) => dispatch(seek(ms))} />
      </div>
    </View>
  );
}

/** Takes and marks on the timeline: drawn anew when the view or they change, and not with every step of the position. */
const Standing = memo(function Standing({ timeline, takes, marks = [], from, to }: Pick<NoteHeader, 'timeline' | 'takes' | 'marks'> & { from: number; to: number }) {
  const { colors } = useTheme();
  const x = (ms: number) => ((ms - from) / (to - from)) * 100;
  return (
    <>
      {stretchesOnTimeline(timeline).map((t) => {
        const [l, r] = [Math.max(0, x(t.from)), Math.min(100, x(t.to))];
        return r > l ? <div key={`${t.take} ${t.from}`} className={`timeline-take take-${takes.findIndex((k) => k.id === t.take) % 5}`} style={{ left: `${l}%`, width: `${r - l}%`, height: TAKE_PX }} /> : null;
      })}
      {marks.map((m) => {
        const ms = toTimeline(timeline, m);
        if (ms === null || ms < from || ms > to) return null;
        const shape = MARK_SHAPES[m.kind];
        const color = colors[MARK_ROLES[m.kind]];
        return (
          <svg key={m.id} className="timeline-mark" viewBox="0 0 24 24" style={{ left: `${x(ms)}%` }} aria-hidden>
            <path d={shape.path} fill={shape.solid ? color : colors.surfaceVariant} stroke={color} strokeWidth={3.5} strokeLinejoin="round" />
          </svg>
        );
      })}
    </>
  );
});
