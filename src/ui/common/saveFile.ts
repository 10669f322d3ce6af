/** A file name made of a job's name: plain letters, digits and hyphens. */
export const toFileStem = (name: string, otherwise = 'job'): string =>
  name.normalize('NFKD').replace(/[^A-Za-z0-9-]+/g, '-').replace(/^-+|-+$/g, '').toLowerCase() || otherwise;

/** Hands a text to the browser as a download. */
export function saveFile(name: string, text: string): void {
  const url = URL.createObjectURL(new Blob([text], { type: 'text/plain' }));
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  URL.revokeObjectURL(url);
}
