/** Files that are dropped onto the program, or pasted, come into the sheet. */
import { useEffect } from 'react';
import { askToBring } from '../../store/bringing';
import { canChange } from '../../store/change';
import { store } from '../../store/store';
import './bringing.css';

const hasFiles = (data: DataTransfer | null): boolean => data?.types.includes('Files') ?? false;

/** The note that is open takes them; anywhere else they make new notes. */
function bring(files: readonly File[]): void {
  const state = store.getState();
  const isHere = window.location.pathname.startsWith('/note/') && state.note.status === 'open' && canChange(state);
  store.dispatch(askToBring({ into: isHere ? state.note.id : null, at: null, folder: null }, files));
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
      const files = [...(e.clipboardData?.files ?? [])];
      if (!files.length || document.querySelector('dialog:modal')) return;
      e.preventDefault();
      bring(files);
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
