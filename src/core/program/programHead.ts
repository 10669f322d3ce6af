import { describeBlank, getMount } from '../job/blankText';
import { getLayout } from '../machine/layouts/registry';
import { describeCentre, listZeroWords } from '../machine/zeroText';
import type { ProgramInput } from './dialect';
import type { ProgramText } from './programText';
import { UNSTAMPED } from './stamp';
import { formatWord } from './words';

/** Says at a file's head what has to be so at the machine: blank, zero, senses, cutters and heights. */
export function tellHead(text: ProgramText, { job, runs, isStamped }: Pick<ProgramInput, 'job' | 'runs' | 'isStamped'>): void {
  const { machine, blank } = job;
  const layout = getLayout(machine.layout);
  const length = (mm: number): string => formatWord(mm, 3);
  text.tell('Hobel:', job.name);
  text.tell(`blank ${describeBlank(blank, length, 'mm')}, ${job.material}`);
  const zero = listZeroWords(job);
  const linear = zero.filter(({ letter }) => 'XYZ'.includes(letter)).map(({ letter, where }) => `${letter} ${where}`);
  text.tell(`zero ${linear.join(', ')}`);
  for (const { letter, where } of zero) if (!'XYZ'.includes(letter)) text.tell(`${letter} is zero ${where}`);
  for (const line of layout.describe(machine.layout, getMount(blank), length)) text.tell(line);
  const centre = describeCentre(job, length);
  if (centre !== null) text.tell(centre);
  for (const tool of new Set(runs.map((r) => r.tool))) text.tell(`T${tool.number} ${tool.name}`);
  const { parkHeightMm, hopHeightMm, approachGapMm } = job.motion;
  text.tell(`waits ${length(parkHeightMm)} mm over the blank, hops at ${length(hopHeightMm)}, rapid down to ${length(approachGapMm)}`);
  if (isStamped) text.tell(UNSTAMPED);
}
