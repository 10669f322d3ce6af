import type { NextConfig } from 'next';

// Compiled packages probe for Node's modules; in the browser there are none.
const empty = { browser: './src/workers/empty.ts' };

const config: NextConfig = {
  allowedDevOrigins: ['127.0.0.1'],
  serverExternalPackages: ['better-sqlite3', 'harfbuzzjs', 'wawoff2', 'occt-import-js'],
  turbopack: { resolveAlias: { module: empty, fs: empty, path: empty }, root: import.meta.dirname },
  devIndicators: false,
  // Bootstrap's own sources still use @import.
  sassOptions: { quietDeps: true, silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'] },
  poweredByHeader: false,
  // `npm run types` checks the sources and the tests; a second check here would only cost the demo a minute.
  typescript: { ignoreBuildErrors: true },
};

export default config;
