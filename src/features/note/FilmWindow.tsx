/** The film whose sound is heard, in a small window over the page that can be pulled aside: without sound of its own, and in step with what plays. */
import { useEffect, useRef, useState } from 'react';
import { typedUrl } from '../../platform/shownUrl';
import { readContent } from '../../storage/contentFile';
import { filmAt, position } from '../../store/playing';
import { toolsSlice } from '../../store/slices';
import { useAppDispatch, useAppSelector, useAppStore } from '../../store/store';
import './film.css';

/** The picture may be so far from the sound before it is set right, s (ITU-R BT.1359-1, from memory: sound 125 ms late or 45 ms early is noticed). */
const OFF_S = 0.12;
/** How often it is looked at, ms. */
const EVERY_MS = 200;
const STEP_PX = 24;

export function FilmWindow() {
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const wanted = useAppSelector((s) => s.note.mode === 'listen' && s.tools.film && (s.note.note?.header.takes.some((t) => t.film) ?? false));
  const [content, setContent] = useState<{ hash: string; type: string } | null>(null);
  const [broken, setBroken] = useState(false);
  const [large, setLarge] = useState(false);
  const [at, setAt] = useState({ x: 0, y: 0 });
  const video = useRef<HTMLVideoElement>(null);
  const pulled = useRef<{ x: number; y: number } | null>(null);

  // Which film it is, and where in it: the sound leads.
  useEffect(() => {
    if (!wanted) return undefined;
    const follow = () => {
      const { note, playback, settings } = store.getState();
      const film = note.note && filmAt(note.note.header, dispatch(position()));
      setContent((now) => (film ? (now?.hash === film.content ? now : { hash: film.content, type: film.type }) : now));
      const el = video.current;
      if (!el || !film || el.readyState === 0) return;
      const playing = playback.playing && !playback.waiting;
      el.playbackRate = settings.speed;
      if (Math.abs(el.currentTime - film.at) > (playing ? OFF_S * settings.speed : 0.02)) el.currentTime = film.at;
      // A browser that plays nothing by itself lets what is silent play. Who pauses before it has begun breaks nothing.
      if (playing && el.paused) void el.play().catch((e: unknown) => !(e instanceof DOMException && e.name === 'AbortError') && setBroken(true));
      if (!playing && !el.paused) el.pause();
    };
    follow();
    const timer = setInterval(follow, EVERY_MS);
    return () => clearInterval(timer);
  }, [wanted, store, dispatch]);

  useEffect(() => {
    if (!wanted || !content) return undefined;
    let url = '';
    let here = true;
    void readContent(content.hash).then(
      (bytes) => {
        if (!here) return;
        if (!bytes) return setBroken(true);
        url = typedUrl(bytes, content.type);
        setBroken(false);
        if (video.current) video.current.src = url;
      },
      () => here && setBroken(true),
    );
    return () => {
      here = false;
      if (url) URL.revokeObjectURL(url);
    };
  }, [wanted, content]);

  if (!wanted || !content) return null;
  const move = (dx: number, dy: number) => setAt(({ x, y }) => ({ x: Math.min(0, x + dx), y: Math.max(0, y + dy) }));
  return (
    <section
      aria-label="Film"
      className="film"
      data-large={large}
      ref={(el) => {
        if (el) el.style.translate = `${at.x}px ${at.y}px`;
      }}
    >
      <div
        className="film-bar"
        role="toolbar"
        aria-label="Window of the film"
        onPointerDown={(e) => {
          if ((e.target as Element).closest('button')) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          pulled.current = { x: e.clientX, y: e.clientY };
        }}
        onPointerMove={(e) => {
          if (!pulled.current) return;
          move(e.clientX - pulled.current.x, e.clientY - pulled.current.y);
          pulled.current = { x: e.clientX, y: e.clientY };
        }}
        onPointerUp={() => (pulled.current = null)}
        onPointerCancel={() => (pulled.current = null)}
      >
        <button
          type="button"
          aria-label="Move the film: arrow keys, or pull"
          className="film-grip"
          onKeyDown={(e) => {
            const by = ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const)[e.key as 'ArrowLeft'];
            if (!by) return;
            e.preventDefault();
            e.stopPropagation();
            move(by[0] * STEP_PX, by[1] * STEP_PX);
          }}
        >
          Film
        </button>
        <button type="button" aria-label={large ? 'Make the film smaller' : 'Make the film larger'} onClick={() => setLarge(!large)}>
          {large ? '–' : '+'}
        </button>
        <button type="button" aria-label="Put the film away" onClick={() => dispatch(toolsSlice.actions.set({ film: false }))}>
          ×
        </button>
      </div>
      {broken ? (
        <p role="alert" className="film-broken">
          The film cannot be shown. Its sound is whole.
        </p>
      ) : (
        <video ref={video} muted playsInline preload="auto" aria-label="Picture of the film" />
      )}
    </section>
  );
}
