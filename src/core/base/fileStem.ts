/** A file name made of a job's name: plain letters, digits and hyphens. */
export const toFileStem = (name: string, otherwise = 'job'): string =>
  name
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9-]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase() || otherwise;
