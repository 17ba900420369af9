/** Files that are dropped onto the program, or pasted, come into the sheet; pasted text and ink, onto the page. */
import { useEffect } from 'react';
import { asleep, awake } from '../../platform/asleep';
import { askToBring } from '../../store/bringing';
import { inHand } from '../../store/beside';
import { canChange } from '../../store/change';
import { store } from '../../store/store';
import { pasteText } from '../../store/pasteText';
import { pasteInSight } from '../../store/takingOver';
import { draftsOfMarkup, draftsOfText } from '../note/surface/typing/document';
import './bringing.css';

const hasFiles = (data: DataTransfer | null): boolean => data?.types.includes('Files') ?? false;

const isOnNote = (): boolean => window.location.pathname.startsWith('/note/');

/** The note that is open takes them; anywhere else they make new notes. `url`: the address they were copied from. */
function bring(files: readonly File[], url: string | null = null): void {
  const state = store.getState();
  const isHere = isOnNote() && state.note.status === 'open' && canChange(state);
  store.dispatch(askToBring({ into: isHere ? state.note.id : null, at: null, folder: null, ...(url === null ? {} : { url }) }, files));
}

const wordsOf = (drafts: readonly { readonly text: string }[]): string => drafts.map((d) => d.text).join(' ').replace(/\s+/g, ' ').trim();

/** The address that what was copied from a page of the web names itself by: of a picture, of a link, or what the text is. */
function addressOf(text: string, html: string): string | null {
  if (/^https?:\/\/\S+$/.test(text.trim())) return text.trim();
  // Looks that stand in it are no looks here: the policy of the page would complain of each.
  const body = new DOMParser().parseFromString(asleep(html).replace(/\b(style)\b/gi, 'kept-$1'), 'text/html').body;
  const links = [...body.querySelectorAll('a[href], img[src]')];
  // The words may stand in the address as well.
  const address = awake(links[0]?.getAttribute('href') ?? links[0]?.getAttribute('src') ?? '').replace(/kept-(style)/gi, '$1');
  return links.length === 1 && /^https?:\/\//.test(address) ? address : null;
}

/** What is pasted: what was copied here, where the clipboard still says so; else files or text from elsewhere. True when it was taken. */
function pasted(data: DataTransfer): boolean {
  const side = inHand();
  const state = side.getState();
  const writes = isOnNote() && state.note.status === 'open' && state.note.mode === 'write' && canChange(state);
  const files = [...data.files];
  const [text, html] = [data.getData('text/plain'), data.getData('text/html')];
  const { clipboard } = state;
  if (writes && clipboard && (clipboard.marking || (clipboard.mark === null ? files.length === 0 : text === clipboard.mark))) side.dispatch(pasteInSight());
  else if (files.length) bring(files, addressOf('', html));
  else if (writes && text.trim()) {
    const { look } = state.tools.typing;
    const plain = draftsOfText(text, look);
    const marked = html ? draftsOfMarkup(asleep(html), look) : [];
    // Markup that says other words than the text does is none of it: a frame, a menu.
    side.dispatch(pasteText(wordsOf(marked) === wordsOf(plain) ? marked : plain, addressOf(text, html)));
  }
  else return false;
  return true;
}

export function useHandedFiles(): void {
  useEffect(() => {
    const sign = document.createElement('div');
    sign.className = 'drop-here';
    sign.textContent = 'Drop to bring in';
    const over = (e: DragEvent) => {
      if (!hasFiles(e.dataTransfer)) return;
      // Without this the browser would leave the program for the file.
      e.preventDefault();
      if (!sign.isConnected) document.body.append(sign);
    };
    const left = (e: DragEvent) => {
      if (!e.relatedTarget) sign.remove();
    };
    const drop = (e: DragEvent) => {
      sign.remove();
      if (!hasFiles(e.dataTransfer)) return;
      e.preventDefault();
      const files = [...e.dataTransfer!.files];
      if (files.length) bring(files);
    };
    const paste = (e: ClipboardEvent) => {
      const to = e.target as HTMLElement | null;
      if (!e.clipboardData || document.querySelector('dialog:modal') || to?.isContentEditable || ['INPUT', 'TEXTAREA'].includes(to?.tagName ?? '')) return;
      if (pasted(e.clipboardData)) e.preventDefault();
    };
    window.addEventListener('dragover', over);
    window.addEventListener('dragleave', left);
    window.addEventListener('drop', drop);
    window.addEventListener('paste', paste);
    return () => {
      sign.remove();
      window.removeEventListener('dragover', over);
      window.removeEventListener('dragleave', left);
      window.removeEventListener('drop', drop);
      window.removeEventListener('paste', paste);
    };
  }, []);
}
