/** A file name made of a job's name: plain letters, digits and hyphens. */
export const toFileStem = (name: string, otherwise = 'job'): string =>
  name
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9-]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase() || otherwise;

/** Hands a text or a picture to the browser as a download. */
export function saveFile(name: string, content: string | Blob): void {
  const url = URL.createObjectURL(typeof content === 'string' ? new Blob([content], { type: 'text/plain' }) : content);
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  URL.revokeObjectURL(url);
}
