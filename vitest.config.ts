import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** Files that take longest, by far: they begin first, so that none runs on alone at the end. */
const LONG = ['dangers', 'dangersToo', 'dialects', 'cuts', 'blanks', 'removalCutters', 'removal', 'field', 'cli', 'findings', 'kinds'];

class LongFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const rank = ({ moduleId }: TestSpecification): number => {
      const at = LONG.findIndex((name) => moduleId.endsWith(`/${name}.test.ts`));
      return at < 0 ? LONG.length : at;
    };
    return (await super.sort(files)).sort((a, b) => rank(a) - rank(b));
  }
}

export default defineConfig({
  test: {
    testTimeout: 120_000,
    sequence: { sequencer: LongFirst },
    // Modules are loaded once a worker: besides what is kept to be faster they hold nothing that a test could leave to another.
    isolate: false,
    // By itself one less than there are cores: half of a small machine.
    maxWorkers: Math.max(1, availableParallelism()),
    projects: [
      { extends: true, test: { name: 'unit', include: ['src/**/*.test.ts', 'src/**/*.test.tsx'], environment: 'node' } },
      { extends: true, test: { name: 'checks', include: ['checks/**/*.test.ts'], environment: 'node' } },
    ],
  },
});
