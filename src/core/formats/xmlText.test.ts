/** Typed text may hold what XML has no place for: what is handed on is read all the same, by an independent reader. */
import { execFileSync } from 'node:child_process';
import * as fc from 'fast-check';
import { xmlText } from './xmlText';

test('whatever was typed, Python’s XML parser (expat) reads it, and nothing that XML can hold is lost', () => {
  const texts = [...fc.sample(fc.string({ unit: 'binary', maxLength: 40 }), 200), 'ebb\u000bflood', '\ud800', 'a\u0000b\u0008c\u001fd\ufffe\uffff', '𝄞\t\n'];
  const escape = (t: string) => t.replace(/[&<>]/g, (c) => `&#${c.charCodeAt(0)};`).replace(/\r/g, '&#13;');
  const docs = texts.map((t) => Buffer.from(`<a>${escape(xmlText(t))}</a>`, 'utf8').toString('base64'));
  const out = JSON.parse(execFileSync('python3', ['-c', 'import sys,json,base64,xml.etree.ElementTree as E\nprint(json.dumps([E.fromstring(base64.b64decode(d)).text or "" for d in json.load(sys.stdin)]))'], { input: JSON.stringify(docs) }).toString()) as string[];
  expect(out).toEqual(texts.map(xmlText));
  expect([xmlText('ebb\u000bflood'), xmlText('Wind: 5 m/s 𝄞\t\n')]).toEqual(['ebb flood', 'Wind: 5 m/s 𝄞\t\n']);
});
