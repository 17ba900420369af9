/** The page that lists what was handed on together: names that lead to the files beside it, and nothing that runs. */

const sign = (text: string): string => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');

export interface Listed {
  readonly title: string;
  /** ms since the epoch. */
  readonly made: number;
  /** Names of its files, beside the page; none where the note had none of what was wanted. */
  readonly files: readonly string[];
}

export function contentsPage(notes: readonly Listed[]): string {
  const rows = notes.map(({ title, made, files }) => {
    const day = new Date(made).toLocaleDateString('en', { dateStyle: 'long' });
    const links = files.length ? files.map((f) => `<a href="${sign(f.split('/').map(encodeURIComponent).join('/'))}">${sign(f)}</a>`).join('<br>') : 'Nothing of this kind is in it.';
    return `<tr><th scope="row">${sign(title)}</th><td>${sign(day)}</td><td>${links}</td></tr>`;
  });
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Contents</title>
<style>
body { margin: 2rem auto; max-width: 60rem; padding: 0 1rem; font: 1rem/1.5 sans-serif; color-scheme: light dark; }
table { border-collapse: collapse; width: 100%; }
th, td { text-align: left; vertical-align: top; padding: .5rem .75rem .5rem 0; border-top: 1px solid; }
</style>
</head>
<body>
<h1>Contents</h1>
<table>
<thead><tr><th scope="col">Note</th><th scope="col">Made</th><th scope="col">Files</th></tr></thead>
<tbody>
${rows.join('\n')}
</tbody>
</table>
</body>
</html>
`;
}
