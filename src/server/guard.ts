import type { Problem } from './answers';

/** What the guard looks at of a request. */
export interface Visit {
  method: string;
  /** Path of the address, e.g. `/api/jobs`. */
  path: string;
  header: (name: string) => string | null;
}

export interface Refusal {
  status: number;
  problem: Problem;
}

/** Names by which this machine answers itself. */
const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];

/** Routes that take a file as the body; every other one takes JSON. */
const FILE_ROUTES = ['/api/fonts', '/api/shapes'];

/** Above every limit of a route: nothing larger is read at all. Keep beside `proxyClientMaxBodySize` in next.config.ts. */
export const MAX_ANY_BODY_BYTES = 160 * 1024 * 1024;

/** The names that `HOBEL_HOSTS` adds to loopback: host names with commas between, without a port. */
export const readHosts = (variable: string | undefined): readonly string[] => [
  ...LOOPBACK,
  ...(variable ?? '')
    .split(',')
    .map((name) => name.trim().toLowerCase())
    .filter(Boolean),
];

const refuse = (status: number, error: string, text: string, remedy: string): Refusal => ({ status, problem: { error, text, remedy } });

/**
 * Says why a request is not let in, or null. Another web page in the same browser can reach a server on this machine, by its address
 * or by a name that it lets point here; so the name asked for must be one of ours, and a write must come from our own pages or from
 * no page at all. Browsers state both by themselves. Sources: Fetch Standard ("Origin header"), Fetch Metadata Request Headers
 * (W3C), both from memory.
 */
export function findRefusal({ method, path, header }: Visit, hosts: readonly string[]): Refusal | null {
  const host = (header('host') ?? '').toLowerCase();
  const name = host.replace(/:\d+$/, '');
  if (!hosts.includes(name))
    return refuse(
      421,
      'host',
      `Hobel does not answer to the name ${name || '(none)'}`,
      'Add the name to HOBEL_HOSTS and start Hobel again',
    );
  if (!path.startsWith('/api/')) return null;

  const foreign = () =>
    refuse(
      403,
      'origin',
      'The request comes from another web page, and was not taken',
      "Use Hobel's own pages, or a program without a browser",
    );
  const site = header('sec-fetch-site');
  if (site && site !== 'same-origin' && site !== 'none') return foreign();
  if (method === 'GET' || method === 'HEAD') return null;

  const origin = header('origin');
  if (origin !== null && !(URL.canParse(origin) && new URL(origin).host === host)) return foreign();
  if (Number(header('content-length')) > MAX_ANY_BODY_BYTES)
    return refuse(413, 'tooLarge', `Hobel takes at most ${MAX_ANY_BODY_BYTES / 1048576} MB at once`, 'Send a smaller file');
  if (method === 'DELETE') return null;
  const wanted = FILE_ROUTES.includes(path) ? 'application/octet-stream' : 'application/json';
  const given = (header('content-type') ?? '').split(';')[0]!.trim().toLowerCase();
  if (given !== wanted)
    return refuse(
      415,
      'contentType',
      `This address takes ${wanted}, not ${given || 'a body without a type'}`,
      `Send the header Content-Type: ${wanted}`,
    );
  return null;
}
