/** Hands a file to the user. */
export function saveFile(name: string, content: Uint8Array | Blob, type: string): void {
  const url = URL.createObjectURL(content instanceof Blob ? content : new Blob([content as Uint8Array<ArrayBuffer>], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The download has its own hold on the data once the click is over.
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}

/** Asks for a file; null when none was chosen. */
export function chooseFile(accept: string): Promise<File | null> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    input.addEventListener('change', () => resolve(input.files?.[0] ?? null));
    input.addEventListener('cancel', () => resolve(null));
    input.click();
  });
}

/** Asks for files; none when none were chosen. `camera`: a device that has one takes a photo. */
export function chooseFiles(accept: string, camera = false): Promise<File[]> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    if (camera) input.setAttribute('capture', 'environment');
    else input.multiple = true;
    input.addEventListener('change', () => resolve([...(input.files ?? [])]));
    input.addEventListener('cancel', () => resolve([]));
    input.click();
  });
}

/** Puts a file onto the clipboard. It may still be in the making: the browser takes the promise while the touch counts. @throws what the browser says when it does not take it. */
export async function copyFile(file: Promise<Blob>, type: string): Promise<void> {
  await navigator.clipboard.write([new ClipboardItem({ [type]: file })]);
}
