import type { NextConfig } from 'next';

// Compiled packages probe for Node's modules; in the browser there are none.
const empty = { browser: './src/workers/empty.ts' };

/**
 * What pages may load and run: their own files only. The framework starts its pages with scripts in the page; WebAssembly draws the
 * lettering; the development server evaluates. Workers come under the header of their own file, and have none: STEP needs more there.
 */
const contentPolicy = [
  "default-src 'self'",
  `script-src 'self' 'unsafe-inline' 'wasm-unsafe-eval'${process.env.NODE_ENV === 'development' ? " 'unsafe-eval'" : ''}`,
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' data: blob:",
  "font-src 'self' data: blob:",
  "connect-src 'self' data: blob:",
  "worker-src 'self' blob:",
  "object-src 'none'",
  "base-uri 'self'",
  "form-action 'self'",
  "frame-ancestors 'none'",
].join('; ');

const config: NextConfig = {
  // The proxy sees bodies before the routes do; see MAX_ANY_BODY_BYTES in src/server/guard.ts.
  experimental: { proxyClientMaxBodySize: '160mb' },
  headers: () =>
    Promise.resolve([
      {
        source: '/:path*',
        headers: [
          { key: 'X-Content-Type-Options', value: 'nosniff' },
          { key: 'X-Frame-Options', value: 'DENY' },
          { key: 'Referrer-Policy', value: 'same-origin' },
          { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
        ],
      },
      { source: '/((?!_next/).*)', headers: [{ key: 'Content-Security-Policy', value: contentPolicy }] },
    ]),
  allowedDevOrigins: ['127.0.0.1'],
  serverExternalPackages: ['better-sqlite3', 'harfbuzzjs', 'wawoff2', 'occt-import-js', 'manifold-3d', 'pdfmake'],
  turbopack: { resolveAlias: { module: empty, 'node:module': empty, fs: empty, path: empty }, root: import.meta.dirname },
  devIndicators: false,
  // Bootstrap's own sources still use @import.
  sassOptions: { quietDeps: true, silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'] },
  poweredByHeader: false,
  // `npm run types` checks the sources and the tests; a second check here would only cost the demo a minute.
  typescript: { ignoreBuildErrors: true },
};

export default config;
