/** Types of the package `linebreak`, which brings none. */
declare module 'linebreak' {
  export default class LineBreaker {
    constructor(text: string);
    /** The next place where a line may end, or has to; null at the end of the text. */
    nextBreak(): { readonly position: number; readonly required: boolean } | null;
  }
}
