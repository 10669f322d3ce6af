import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    testTimeout: 120_000,
    // By itself one less than there are cores: half of a small machine.
    maxWorkers: Math.max(1, availableParallelism()),
    projects: [
      { extends: true, test: { name: 'unit', include: ['src/**/*.test.ts', 'src/**/*.test.tsx'], environment: 'node' } },
      { extends: true, test: { name: 'checks', include: ['checks/**/*.test.ts'], environment: 'node' } },
    ],
  },
});
