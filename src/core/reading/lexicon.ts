/** Words that a writing is likely to be, as a tree of their letters (folded: small, without accents). */
import { classOf, folded } from './alphabet';

/** How much less likely than the most frequent ones, as a logarithm, by SCOWL's levels of frequency; chosen with faces that the reader learned by. */
const BY_LEVEL: Readonly<Record<string, number>> = { 10: 0, 20: -0.8, 35: -1.8, 40: -2.5, 50: -3, 55: -3.4 };
/** Of words that the writer or the course uses. */
export const OWN_WORD = -0.4;

/** Of words of a list that the user added, where the list does not say. */
export const LISTED_WORD = -1.2;
/** Words of a list that is added, at most, and its size. */
export const LIST_LIMIT = { words: 300_000, bytes: 8_000_000 } as const;

/** A file with a word on each line, in UTF-8 or what Windows wrote before (windows-1252). @throws Error with a clause when it is none */
export function readWordList(bytes: Uint8Array): LexiconWord[] {
  if (bytes.length > LIST_LIMIT.bytes) throw new Error('it is larger than 8 MB');
  if (bytes.includes(0)) throw new Error('it is no plain text');
  const utf8 = new TextDecoder().decode(bytes);
  const words = wordsOf((utf8.includes('\ufffd') ? new TextDecoder('windows-1252').decode(bytes) : utf8).replace(/^\ufeff/, ''), LISTED_WORD).filter(({ text }) => text.length <= 60 && !/\s/.test(text));
  if (!words.length) throw new Error('there is no line with a single word in it');
  if (words.length > LIST_LIMIT.words) throw new Error('it has more than 300,000 words');
  return words;
}

export interface LexiconWord {
  readonly text: string;
  readonly weight: number;
}

/** A plain list: a word on each line; a line `#35` gives the level of those after it, other lines that begin with `#` are passed over. */
export function wordsOf(list: string, weight = OWN_WORD): LexiconWord[] {
  const out: LexiconWord[] = [];
  let now = weight;
  for (const line of list.split(/\r?\n/)) {
    const text = line.trim();
    if (text.startsWith('#')) now = BY_LEVEL[text.slice(1)] ?? now;
    else if (text) out.push({ text, weight: now });
  }
  return out;
}

export class Lexicon {
  /** Of a node: its letter as a class, its first child, the next child of its parent, the weight of the word that ends there, and the best weight beneath it. */
  private cls: Uint8Array;
  private child: Int32Array;
  private sibling: Int32Array;
  private own: Float32Array;
  private beneath: Float32Array;
  private size = 1;

  constructor(words: readonly LexiconWord[]) {
    const capacity = 64 + words.reduce((n, { text }) => n + text.length, 0);
    this.cls = new Uint8Array(capacity);
    this.child = new Int32Array(capacity);
    this.sibling = new Int32Array(capacity);
    this.own = new Float32Array(capacity).fill(-Infinity);
    this.beneath = new Float32Array(capacity).fill(-Infinity);
    for (const word of words) this.add(word);
  }

  add({ text, weight }: LexiconWord): void {
    const classes = [...folded(text)].map(classOf);
    if (!classes.length || classes.includes(undefined)) return;
    if (this.size + classes.length > this.cls.length) this.grow(classes.length);
    let node = 0;
    this.beneath[0] = Math.max(this.beneath[0], weight);
    for (const c of classes as number[]) {
      let next = this.child[node];
      while (next && this.cls[next] !== c) next = this.sibling[next];
      if (!next) {
        next = this.size++;
        this.cls[next] = c;
        this.sibling[next] = this.child[node];
        this.child[node] = next;
      }
      node = next;
      this.beneath[node] = Math.max(this.beneath[node], weight);
    }
    this.own[node] = Math.max(this.own[node], weight);
  }

  private grow(by: number): void {
    const n = 2 * this.cls.length + by;
    const into = <T extends { set(a: T): void }>(next: T, old: T): T => (next.set(old), next);
    this.cls = into(new Uint8Array(n), this.cls);
    this.child = into(new Int32Array(n), this.child);
    this.sibling = into(new Int32Array(n), this.sibling);
    this.own = into(new Float32Array(n).fill(-Infinity), this.own);
    this.beneath = into(new Float32Array(n).fill(-Infinity), this.beneath);
  }

  /** Children of a node, 0 being the root: `see` is told each with its letter. */
  each(node: number, see: (child: number, cls: number) => void): void {
    for (let next = this.child[node]; next; next = this.sibling[next]) see(next, this.cls[next]);
  }

  /** Weight of the word that ends here; -Infinity when none does. */
  weight(node: number): number {
    return this.own[node];
  }

  /** The best weight of a word that goes on from here. */
  best(node: number): number {
    return this.beneath[node];
  }

  has(text: string): boolean {
    let node = 0;
    for (const c of [...folded(text)].map(classOf)) {
      let next = this.child[node];
      while (next && this.cls[next] !== c) next = this.sibling[next];
      if (!next) return false;
      node = next;
    }
    return this.own[node] > -Infinity;
  }
}
