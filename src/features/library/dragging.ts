/** What is dragged with a mouse in the library: notes or a folder, onto a folder. */
const NOTES = 'application/x-notes';
const FOLDER = 'application/x-folder';

export function dragNotes(e: React.DragEvent, ids: readonly string[]): void {
  e.dataTransfer.setData(NOTES, JSON.stringify(ids));
  e.dataTransfer.effectAllowed = 'move';
}

export function dragFolder(e: React.DragEvent, id: string): void {
  e.dataTransfer.setData(FOLDER, id);
  e.dataTransfer.effectAllowed = 'move';
  e.stopPropagation();
}

/** Handlers of an element on which notes and folders can be let go. */
export function dropTarget(onNotes: (ids: readonly string[]) => void, onFolder: (id: string) => void) {
  const mark = (e: React.DragEvent<HTMLElement>, over: boolean) => (e.currentTarget.dataset.over = String(over));
  return {
    onDragOver: (e: React.DragEvent<HTMLElement>) => {
      if (!e.dataTransfer.types.includes(NOTES) && !e.dataTransfer.types.includes(FOLDER)) return;
      e.preventDefault();
      mark(e, true);
    },
    onDragLeave: (e: React.DragEvent<HTMLElement>) => mark(e, false),
    onDrop: (e: React.DragEvent<HTMLElement>) => {
      e.preventDefault();
      mark(e, false);
      const notes = e.dataTransfer.getData(NOTES);
      const folder = e.dataTransfer.getData(FOLDER);
      if (notes) onNotes(JSON.parse(notes) as string[]);
      else if (folder) onFolder(folder);
    },
  };
}
