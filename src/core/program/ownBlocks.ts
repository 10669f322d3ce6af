import type { Machine, Placeholder } from '../job/machineSchema';
import type { ReadingRules } from './dialect';
import { toPlain } from './words';

export type OwnBlock = keyof Machine['ownBlocks'];

/** Lines of a machine's own block with its placeholders filled in; empty lines are left out. */
export const fillOwnBlock = (text: string, values: Readonly<Record<Placeholder, string>>): string[] =>
  text
    .split('\n')
    .map((line) => line.replace(/\{(\w+)\}/g, (whole, name: string) => values[name as Placeholder] ?? whole).trim())
    .filter((line) => line !== '');

/** A name as a placeholder stands for it: in letters that any control reads, and nothing that would end a comment. */
export const toOwnName = (text: string): string => toPlain(text).replace(/[(){};%]/g, '');

/** A word of a machine's own block that its programs cannot stand, and why. */
export interface OwnBlockFault {
  block: OwnBlock;
  /** Line in the block, from 1. */
  line: number;
  word: string;
  why: string;
}

/** What Hobel's blocks go by after a block of the machine's own: the words of these groups that leave it so. */
const KEPT: Readonly<Record<string, readonly string[]>> = {
  distance: ['G90'],
  plane: ['G17'],
  'radius compensation': ['G40'],
};
/** Words for units, by the unit: NISTIR 6556 has the ones, ISO 6983-1 the others (from memory). */
const UNITS = { mm: ['G21', 'G71'], in: ['G20', 'G70'] };
const WORD = /([A-Z])([+-]?(?:\d+\.?\d*|\.\d+))/y;
/** Stand-ins for placeholders, which are filled in when the program is written. */
const SAMPLE: Readonly<Record<Placeholder, string>> = { number: '1', tool: 'TOOL', rpm: '1000', job: 'JOB', park: '10.' };

/**
 * What is wrong with a machine's own blocks: words that its dialect has not got, and words that leave the control otherwise than the
 * blocks after them take it to be. What moves in them is judged with the program, which is read back whole.
 */
export function findOwnBlockFaults(machine: Pick<Machine, 'ownBlocks' | 'programUnit'>, rules: ReadingRules): OwnBlockFault[] {
  const out: OwnBlockFault[] = [];
  for (const block of ['start', 'change', 'end'] as const) {
    /** The last word of each group that must be as it was, with its line. */
    const last = new Map<string, { word: string; line: number }>();
    for (const [k, raw] of (machine.ownBlocks[block] ?? '').split('\n').entries()) {
      const line = k + 1;
      let source = fillOwnBlock(raw, SAMPLE).join('');
      for (const comment of rules.comments) source = source.replace(comment, '');
      source = source.replace(/\s+/g, '').toUpperCase();
      for (let at = 0; at < source.length; at = WORD.lastIndex) {
        WORD.lastIndex = at;
        const found = WORD.exec(source);
        if (!found) {
          out.push({ block, line, word: source.slice(at, at + 12), why: 'it cannot be read' });
          break;
        }
        if (found[1] !== 'G' && found[1] !== 'M') continue;
        const word = `${found[1]}${Number(found[2])}`;
        const group = rules.groups[word];
        if (!group) out.push({ block, line, word, why: 'the dialect does not know it' });
        else if (word === 'M2' || word === 'M30') out.push({ block, line, word, why: 'it ends the program, which Hobel does itself' });
        else last.set(group, { word, line });
      }
    }
    for (const [group, { word, line }] of last) {
      const kept = group === 'units' ? UNITS[machine.programUnit] : KEPT[group];
      if (block !== 'end' && kept && !kept.includes(word))
        out.push({ block, line, word, why: `what follows it counts on ${kept.find((w) => rules.groups[w]) ?? kept[0]}` });
    }
  }
  return out;
}
