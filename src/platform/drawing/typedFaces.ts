/** The faces of typed text, there before it is drawn: on a page they come when something asks for them, into a file they are waited for. */
import { cssFont, faceName, FAMILIES, fontFiles, type Look } from '../../core/text/faces';
import { lettersIn, type Placed } from '../../core/note/kinds/kinds';

interface Fonts {
  check(font: string, text?: string): boolean;
  load(font: string, text?: string): Promise<unknown>;
  add(face: FontFace): unknown;
}
const fonts = (): Fonts | null => (typeof document === 'undefined' ? ((globalThis as unknown as { fonts?: Fonts }).fonts ?? null) : (document.fonts as unknown as Fonts));

const asked = new Map<string, Promise<boolean>>();
/** A face that did not come is asked for again after so long, ms. */
const AGAIN_MS = 30_000;
const waiting = new Set<() => void>();

/** Called when a face came that something was drawn without; gives the way to stop that. */
export function watchFaces(came: () => void): () => void {
  waiting.add(came);
  return () => void waiting.delete(came);
}

/** Whether a text needs the second file of its face. */
const LATER = /[\u0100-\u02af\u1e00-\u1eff\u20a0-\u20cf]/;

/** False when it did not come. */
function comes(look: Look, text: string): Promise<boolean> {
  const font = cssFont(look, 20);
  const key = `${font} ${LATER.test(text)}`;
  const before = asked.get(key);
  if (before) return before;
  const all = fonts();
  // A worker has no style sheet: it is told where the faces lie.
  const there =
    typeof document === 'undefined'
      ? Promise.all(
          fontFiles(look).map(async (file) => {
            const [weight, style] = file.split('-').slice(-2);
            const face = new FontFace(FAMILIES[look.face], `url(/fonts/${file}.woff2)`, { weight, style, ...(file.includes('-ext-') ? { unicodeRange: 'U+0100-02AF, U+1E00-1EFF, U+20A0-20CF' } : {}) });
            all?.add(face);
            await face.load();
          }),
        )
      : (all?.load(font, LATER.test(text) ? 'aā' : 'a') ?? Promise.resolve());
  // Without its face a text is drawn in the system's; where it comes later it is asked for again.
  const here = Promise.resolve(there).then(
    () => true,
    () => {
      asked.delete(key);
      return false;
    },
  );
  asked.set(key, here);
  return here;
}

const ready = new Set<string>();
const asking = new Set<string>();
/** Something is drawn with it now: whoever watches draws again when it is there. */
export function askForFace(look: Look, text: string): void {
  const key = `${faceName(look)} ${LATER.test(text)}`;
  if (ready.has(key)) return;
  if (fonts()?.check(cssFont(look, 20), LATER.test(text) ? 'aā' : 'a')) return void ready.add(key);
  if (asking.has(key)) return;
  asking.add(key);
  void comes(look, text).then((came) => {
    // Drawing again at once would ask for it again at once, for as long as there is no network.
    if (!came) return void setTimeout(() => asking.delete(key), AGAIN_MS);
    asking.delete(key);
    ready.add(key);
    waiting.forEach((draw) => draw());
  });
}

/** Before what is drawn goes into a file. */
export async function facesOf(placed: readonly Placed[]): Promise<void> {
  for (const { look, text } of placed.flatMap(lettersIn)) {
    const all = fonts();
    if (all?.check(cssFont(look, 20), LATER.test(text) ? 'aā' : 'a') && typeof document !== 'undefined') continue;
    await comes(look, text);
  }
}
