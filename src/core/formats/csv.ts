/** Tables as comma-separated values (RFC 4180), and as spreadsheets have them on the clipboard (the same with tabs). Package `papaparse`. */
import Papa from 'papaparse';

const SEPARATORS = [',', ';', '\t'] as const;
/** Records that are looked at to find it. */
const LOOKS = 20;

/** The separator by which the first records have as many fields as the first, and more than one; a comma where none does. */
function separatorOf(text: string): string {
  let [best, most] = [',', 0];
  for (const separator of SEPARATORS) {
    const { data } = Papa.parse<string[]>(text, { delimiter: separator, preview: LOOKS, skipEmptyLines: true });
    const fields = data[0]?.length ?? 0;
    const score = fields > 1 ? data.filter((row) => row.length === fields).length / data.length + fields / 1000 : 0;
    if (score > most) [best, most] = [separator, score];
  }
  return best;
}

/** Rows of fields. The separator is found by what stands in it, unless it is given; a byte order mark and empty lines at the end are passed over. */
export function readCsv(text: string, separator?: string): string[][] {
  const bare = text.startsWith('\ufeff') ? text.slice(1) : text;
  if (!bare) return [];
  const { data } = Papa.parse<string[]>(bare, { delimiter: separator ?? separatorOf(bare), header: false, skipEmptyLines: false });
  // A last line may or may not end with a break (RFC 4180, 2.2): that is no row.
  if (/[\r\n]$/.test(bare) && data.length && data[data.length - 1].length === 1 && data[data.length - 1][0] === '') data.pop();
  const width = Math.max(0, ...data.map((row) => row.length));
  return data.map((row) => [...row.map((field) => (isSetOff(field) ? field.slice(1) : field)), ...Array.from({ length: width - row.length }, () => '')]);
}

/**
 * What a spreadsheet would take for a formula is set off by an apostrophe, as by the OWASP's page on CSV injection: a field that begins with one of these signs and is no
 * number. It is taken off again on reading.
 */
const FORMULA = /^(?:[=@\t\r]|[+-](?!\s?[\d.,][\d.,'’\u00a0\u202f ]*\s*$))/;
const isSetOff = (field: string): boolean => field.startsWith("'") && FORMULA.test(field.slice(1));
const OUT = { escapeFormulae: FORMULA } as const;

/** CRLF after every record, fields in quotes where they hold a comma, a quote or a break. */
export const writeCsv = (rows: readonly (readonly string[])[]): string => rows.map((row) => `${row.length === 1 && row[0] === '' ? '""' : Papa.unparse([[...row]], { ...OUT, newline: '\r\n' })}\r\n`).join('');

export const readCells = (text: string): string[][] => readCsv(text, '\t');
export const writeCells = (rows: readonly (readonly string[])[]): string => rows.map((row) => Papa.unparse([[...row]], { ...OUT, delimiter: '\t' })).join('\r\n');

const ESCAPES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;' };
/** For programs that take a table as such. */
export const cellsAsHtml = (rows: readonly (readonly string[])[], head: boolean): string => `<table>${rows.map((row, r) => `<tr>${row.map((text) => `<${head && r === 0 ? 'th' : 'td'}>${text.replace(/[&<>]/g, (c) => ESCAPES[c]).replaceAll('\n', '<br>')}</${head && r === 0 ? 'th' : 'td'}>`).join('')}</tr>`).join('')}</table>`;
