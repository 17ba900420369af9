/** What is spoken, written down by the browser, where it can (Web Speech API, W3C Community Group). Scrivo has no part in how: many browsers send the sound to a service of their maker. */

interface Heard {
  readonly resultIndex: number;
  readonly results: ArrayLike<ArrayLike<{ readonly transcript: string }> & { readonly isFinal: boolean }>;
}
interface Recognition extends EventTarget {
  lang: string;
  continuous: boolean;
  interimResults: boolean;
  start(): void;
  stop(): void;
  abort(): void;
}

const kind = (): (new () => Recognition) | null => {
  const w = globalThis as unknown as { SpeechRecognition?: new () => Recognition; webkitSpeechRecognition?: new () => Recognition };
  return w.SpeechRecognition ?? w.webkitSpeechRecognition ?? null;
};

/** Why there is no dictation here: a sentence; null where there is. */
export const dictationObstacle = (): string | null => (kind() ? null : 'This browser cannot write down what is spoken. The keyboard of a phone or tablet often can: look for its microphone.');

const WHY: Readonly<Record<string, string>> = {
  'not-allowed': 'The microphone or dictation was not allowed. Allow it in the settings of the browser and press Dictate once more.',
  'service-not-allowed': 'The browser does not allow dictation here.',
  network: 'The browser needs its maker’s service for dictation, and could not reach it. Type instead, or try again with a network.',
  'audio-capture': 'No microphone was found. Connect one and press Dictate once more.',
  'language-not-supported': 'The browser cannot write down this language.',
};
/** Nothing was said for a while, or it was stopped by hand. */
const QUIET = new Set(['no-speech', 'aborted']);

/** Begins; gives the way to stop. `heard`: words that are sure; `ended`: once, with a sentence where something went wrong. */
export function dictate({ heard, ended }: { heard(text: string): void; ended(why: string | null): void }): () => void {
  const Kind = kind();
  if (!Kind) {
    ended(dictationObstacle());
    return () => undefined;
  }
  const it = new Kind();
  it.lang = document.documentElement.lang || navigator.language;
  it.continuous = true;
  it.interimResults = false;
  let why: string | null = null;
  let isOver = false;
  const over = () => {
    if (!isOver) ended(why);
    isOver = true;
  };
  it.addEventListener('result', (e) => {
    const { resultIndex, results } = e as unknown as Heard;
    for (let i = resultIndex; i < results.length; i++) if (results[i].isFinal) heard(results[i][0].transcript.trim());
  });
  it.addEventListener('error', (e) => {
    const { error } = e as unknown as { error: string };
    if (!QUIET.has(error)) why = WHY[error] ?? `Dictation ended (${error}). What was written down stays.`;
  });
  it.addEventListener('end', over);
  try {
    it.start();
  } catch (e) {
    why = `Dictation could not begin (${e instanceof Error ? e.message : String(e)}).`;
    over();
  }
  return () => it.stop();
}
