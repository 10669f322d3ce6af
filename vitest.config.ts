import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    testTimeout: 60_000,
    projects: [
      { test: { name: 'unit', include: ['src/**/*.test.ts', 'src/**/*.test.tsx'], environment: 'node' } },
      { test: { name: 'checks', include: ['checks/**/*.test.ts'], environment: 'node' } },
    ],
  },
});
