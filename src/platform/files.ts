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

/** Shows a file in a tab of its own, where the browser prints it. False when the browser lets no tab open. */
export function showFile(blob: Blob): boolean {
  const url = URL.createObjectURL(blob);
  // The tab has read it long before; an address that is never let go of would keep the file in memory.
  setTimeout(() => URL.revokeObjectURL(url), 600_000);
  return window.open(url, '_blank') !== null;
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

/** A picture of a window, a tab or the screen, by the browser's own choice; null when none was chosen. @throws Error with a clause */
export async function pieceOfScreen(): Promise<File | null> {
  if (!navigator.mediaDevices?.getDisplayMedia) throw new Error('this browser cannot take a picture of the screen');
  let stream: MediaStream;
  try {
    stream = await navigator.mediaDevices.getDisplayMedia({ video: true, audio: false });
  } catch (e) {
    if (e instanceof DOMException && e.name === 'NotAllowedError') return null;
    throw new Error(`the browser gave no picture of the screen (${e instanceof Error ? e.message : String(e)})`);
  }
  try {
    const video = document.createElement('video');
    video.muted = true;
    video.srcObject = stream;
    await video.play();
    // The first frame may be blank: the one after it is what is on the screen.
    await new Promise((resolve) => video.requestVideoFrameCallback(() => video.requestVideoFrameCallback(resolve)));
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [video.videoWidth, video.videoHeight];
    canvas.getContext('2d')!.drawImage(video, 0, 0);
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
    if (!blob) throw new Error('the picture of the screen could not be kept');
    return new File([blob], 'Piece of the screen.png', { type: 'image/png' });
  } finally {
    for (const track of stream.getTracks()) track.stop();
  }
}

/** Says on the browser's clipboard what was copied within the program, so that what is copied elsewhere afterwards is told from it. False where the browser does not let it. */
export async function markClipboard(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text);
    return true;
  } catch {
    return false;
  }
}

/** Puts a file onto the clipboard. It may still be in the making: the browser takes the promise while the touch counts. @throws what the browser says when it does not take it. */
export async function copyFile(file: Promise<Blob>, type: string): Promise<void> {
  await navigator.clipboard.write([new ClipboardItem({ [type]: file })]);
}

/** Puts a table onto the clipboard: as text with tabs, and as a table for programs that take one. @throws what the browser says when it does not take it */
export async function copyTable(text: string, html: string): Promise<void> {
  const part = (content: string, type: string) => new Blob([content], { type });
  await navigator.clipboard.write([new ClipboardItem({ 'text/plain': part(text, 'text/plain'), 'text/html': part(html, 'text/html') })]);
}

/** @throws Error with a clause where the browser does not show it */
export async function readClipboardText(): Promise<string> {
  try {
    return await navigator.clipboard.readText();
  } catch (e) {
    throw new Error('the browser did not show it', { cause: e });
  }
}

const asFile = (name: string, blob: Blob, type: string): File => new File([blob], name, { type });

/** Whether the device's own sheet for sharing takes files of this kind. */
export function canShare(name: string, type: string): boolean {
  try {
    return typeof navigator.canShare === 'function' && navigator.canShare({ files: [asFile(name, new Blob([]), type)] });
  } catch {
    return false;
  }
}

/** Gives a file to the device's sheet for sharing; false when nobody was chosen there. @throws what the browser says when it does not take it */
export async function shareFile(name: string, blob: Blob, type: string): Promise<boolean> {
  try {
    await navigator.share({ files: [asFile(name, blob, type)], title: name });
    return true;
  } catch (e) {
    if (e instanceof DOMException && e.name === 'AbortError') return false;
    throw e;
  }
}

/** Opens an address: a page in a tab of its own, a number or a mail by what the device has for it. */
export function openAddress(url: string): void {
  if (/^(tel|mailto):/i.test(url)) window.location.assign(url);
  // What says no scheme, and whatever else it is, never takes the place of the page that records.
  else if (/^https?:/i.test(url)) window.open(url, '_blank', 'noopener,noreferrer');
}
