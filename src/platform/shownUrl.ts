/**
 * An address under which pixels are shown. The type that a file claims is left out: a browser then goes by the first bytes, which tell it pictures and never a drawing
 * (SVG), which could ask for any amount of work from the thread that records. Whoever makes it lets go of it (`URL.revokeObjectURL`).
 */
export const pictureUrl = (content: Blob | Uint8Array): string => URL.createObjectURL(new Blob([content as Blob | Uint8Array<ArrayBuffer>]));

/** An address of what plays, or of what Scrivo made itself: with its type. */
export const typedUrl = (content: Blob | Uint8Array, type: string): string => URL.createObjectURL(new Blob([content as Blob | Uint8Array<ArrayBuffer>], { type }));
