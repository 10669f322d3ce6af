import type { Job } from './schema';

/** What a program that left depends on besides the lettering, and what is said where it has changed since. */
export interface DownloadFacts {
  machine: Job['machine'];
  /** Hash of each font that was set, by its id; '' where it was never kept. */
  fonts: Record<string, string>;
}

export function getDownloadFacts({ machine, inscriptions }: Pick<Job, 'machine' | 'inscriptions'>): DownloadFacts {
  const fonts: Record<string, string> = {};
  for (const own of inscriptions) if (own.kind === 'text' && 'id' in own.font) fonts[own.font.id] = own.fontSha256 ?? '';
  return { machine, fonts };
}

/** What each part of a machine is called where it has changed. */
const PARTS: Record<keyof Job['machine'], string> = {
  id: 'the machine',
  name: 'its name',
  layout: 'how it is built',
  dialect: 'the words its control reads',
  programUnit: 'the unit of its programs',
  files: 'how its programs are parted',
  feedMode: 'its feed words',
  lengthDigits: 'its decimals of lengths',
  angleDigits: 'its decimals of angles',
  maxFeedMmPerMin: 'its feed at most',
  travelMm: 'its travel',
  standsAt: 'where its axis stands',
  clamps: 'its clamps',
  rapidMmPerMin: 'its rapid',
  accelerationMmPerS2: 'its acceleration',
  maxSpindleRpm: 'its spindle speed at most',
  chordToleranceMm: 'its chord tolerance',
  cornerToleranceMm: 'how far it rounds corners',
  maxBlocksPerS: 'its blocks a second',
  arcMm: 'its arcs',
  mergeMm: 'how blocks are merged',
  toolChanger: 'its changer',
  mostLines: 'the lines that a file may have',
  longestLine: 'how long a line may be',
  fileName: 'what its files are called',
  coolant: 'its coolant',
  ownBlocks: 'blocks of its own',
  heights: 'its heights',
  drawer: 'its cutters',
  toolChangeS: 'the time of a change',
  spindleRunUpS: 'the run-up of its spindle',
  toolLengths: 'how lengths of cutters are kept',
};

/** What of machine and fonts is other than it was, in words; none where all is the same. */
export function describeChanges(before: DownloadFacts, now: DownloadFacts): string[] {
  const isOther = (key: keyof Job['machine']): boolean => JSON.stringify(before.machine[key]) !== JSON.stringify(now.machine[key]);
  const machine =
    before.machine.id !== now.machine.id ? [PARTS.id] : (Object.keys(PARTS) as (keyof typeof PARTS)[]).filter(isOther).map((k) => PARTS[k]);
  const ids = [...new Set([...Object.keys(before.fonts), ...Object.keys(now.fonts)])];
  const fonts = ids
    .filter((id) => before.fonts[id] !== now.fonts[id])
    .map((id) =>
      !(id in before.fonts)
        ? `the font ${id}, which is new`
        : !(id in now.fonts)
          ? `the font ${id}, which is gone`
          : `the font ${id} itself`,
    );
  return [...machine, ...fonts];
}
