/** Hands a file to the user. */
export function saveFile(name: string, bytes: Uint8Array, type: string): void {
  const url = URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The download has its own hold on the data once the click is over.
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}

/** Puts a file onto the clipboard. It may still be in the making: the browser takes the promise while the touch counts. @throws what the browser says when it does not take it. */
export async function copyFile(file: Promise<Blob>, type: string): Promise<void> {
  await navigator.clipboard.write([new ClipboardItem({ [type]: file })]);
}
