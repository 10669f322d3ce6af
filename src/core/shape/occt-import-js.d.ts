declare module 'occt-import-js' {
  import type { StepReader } from './step';
  export default function createReader(options?: { locateFile?(name: string): string }): Promise<StepReader>;
}
