/**
 * Runs before pdf.js's own worker, so that what it decodes gives its memory back. It imports nothing, and is laid beside the package (scripts/lay.mjs).
 *
 * A picture is decoded onto a canvas, taken from there, and the canvas left to the garbage collector: here it lets go of its pixels at once. A photo is decoded
 * into a frame of video, of which Chromium keeps two copies of its own for as long as the page is open, 8 MB for each scanned page; as a bitmap it keeps none.
 */
const take = OffscreenCanvas.prototype.transferToImageBitmap;
OffscreenCanvas.prototype.transferToImageBitmap = function (this: OffscreenCanvas): ImageBitmap {
  const bitmap = take.call(this);
  this.width = this.height = 0;
  return bitmap;
};

const Native = self.ImageDecoder;

class BitmapDecoder {
  private readonly blob: Blob;

  constructor({ data, type }: { data: BlobPart; type: string }) {
    this.blob = new Blob([data], { type });
  }

  static isTypeSupported(type: string): Promise<boolean> {
    return Native.isTypeSupported(type);
  }

  async decode(): Promise<{ image: ImageBitmap; complete: boolean }> {
    return { image: await createImageBitmap(this.blob), complete: true };
  }

  close(): void {
    // The bitmap belongs to who asked for it.
  }
}

// Where there is no decoder of this kind pdf.js has its own.
if (typeof Native === 'function') Object.assign(self, { ImageDecoder: BitmapDecoder });
