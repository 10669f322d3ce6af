import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    testTimeout: 60_000,
    projects: [
      { extends: true, test: { name: 'unit', include: ['src/**/*.test.ts', 'src/**/*.test.tsx'], environment: 'node' } },
      { extends: true, test: { name: 'checks', include: ['checks/**/*.test.ts'], environment: 'node' } },
    ],
  },
});
