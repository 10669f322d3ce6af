import { toFileStem } from '../base/fileStem';
import { hashJob, HASH_SHOWN } from '../job/jobHash';
import type { NamePlaceholder } from '../job/machineSchema';
import type { Job } from '../job/schema';
import type { Program, ProgramPart } from './dialect';

/**
 * What the files of a program are called, as the machine has it: its pattern with the placeholders filled in. No two are alike: where the
 * pattern does not tell them apart they are counted.
 */
export function toFileNames(job: Job, { parts }: Pick<Program, 'parts'>): string[] {
  const hash = job.machine.fileName.includes('{hash}') ? hashJob(job).slice(0, HASH_SHOWN) : '';
  const fill = (part: ProgramPart): string => {
    const values: Record<NamePlaceholder, string> = {
      job: toFileStem(job.name, 'program'),
      part: part.suffix && `-${part.suffix}`,
      number: String(part.toolNumber),
      cut: toFileStem(part.cut, 'cut'),
      machine: toFileStem(job.machine.name, 'machine'),
      hash,
    };
    return (
      job.machine.fileName.replace(/\{(\w+)\}/g, (whole, name: string) => values[name as NamePlaceholder] ?? whole).trim() || 'program'
    );
  };
  const seen = new Map<string, number>();
  return parts.map((part) => {
    const stem = fill(part);
    const times = (seen.get(stem) ?? 0) + 1;
    seen.set(stem, times);
    return `${stem}${times > 1 ? `-${times}` : ''}.nc`;
  });
}
