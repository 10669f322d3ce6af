import { ExpressionFault, NumberReader } from './expression';

const GROUP_OF: Record<string, string> = {
  ...group('motion', ['G0', 'G1', 'G2', 'G3', 'G38.2', 'G80', 'G81', 'G82', 'G83']),
  ...group('plane', ['G17', 'G18', 'G19']),
  ...group('distance', ['G90', 'G91']),
  ...group('centres', ['G90.1', 'G91.1']),
  ...group('feed mode', ['G93', 'G94']),
  ...group('units', ['G20', 'G21', 'G70', 'G71']),
  ...group('cutter radius', ['G40']),
  ...group('length offset', ['G43', 'G43.4', 'G49']),
  ...group('return', ['G98', 'G99']),
  ...group('coordinates', ['G54', 'G55', 'G56', 'G57', 'G58', 'G59']),
  ...group('path control', ['G61', 'G61.1', 'G64']),
  ...group('once', ['G4', 'G10', 'G28', 'G30', 'G53', 'G92', 'G92.1', 'G92.2', 'G92.3']),
  ...group('stopping', ['M0', 'M1', 'M2', 'M30', 'M60']),
  ...group('tool change', ['M6']),
  ...group('spindle', ['M3', 'M4', 'M5']),
  ...group('coolant', ['M7', 'M8', 'M9']),
  ...group('overrides', ['M48', 'M49']),
};
/** Known, and not followed: what they do to the way cannot be said from the text alone. */
const NOT_FOLLOWED = new Set(['G38.2', 'G10']);

function group(name: string, codes: readonly string[]): Record<string, string> {
  return Object.fromEntries(codes.map((c) => [c, name]));
}

/** A block of a program from elsewhere. */
export interface ForeignBlock {
  words: Map<string, number>;
  groups: Map<string, string>;
  /** Whether it holds a word that is not followed: then its axes are not moved. */
  unclear: boolean;
}

/**
 * Reads a block. Parameters take their values when it is read: within it the old ones hold.
 * @param source Without comments and spaces, in capitals. @param fault Told of what is known but not followed, or not known.
 * @throws ExpressionFault where it cannot be read.
 */
export function parseForeignBlock(source: string, parameters: Map<number, number>, fault: (text: string) => void): ForeignBlock {
  const block: ForeignBlock = { words: new Map(), groups: new Map(), unclear: false };
  const reader = new NumberReader(source, parameters);
  const settings: [number, number][] = [];
  while (!reader.ended) {
    const letter = reader.next;
    reader.at++;
    if (letter === '#') {
      const n = reader.readParameter();
      if (reader.next !== '=') throw new ExpressionFault(`"=" is missing after #${n}`);
      reader.at++;
      settings.push([n, reader.read()]);
      continue;
    }
    if (letter < 'A' || letter > 'Z') throw new ExpressionFault(`cannot read "${source.slice(reader.at - 1, reader.at + 11)}"`);
    const value = reader.read();
    if (letter === 'G' || letter === 'M') sort(block, `${letter}${Math.round(value * 10) / 10}`, fault);
    else if (letter === 'N') continue;
    else if ('ABCDFHIJKLPQRSTXYZ'.includes(letter)) {
      if (block.words.has(letter)) fault(`${letter} stands twice`);
      block.words.set(letter, value);
    } else fault(`the word ${letter} is not known`);
  }
  for (const [n, value] of settings) parameters.set(n, value);
  return block;
}

function sort(block: ForeignBlock, code: string, fault: (text: string) => void): void {
  const own = GROUP_OF[code];
  if (!own || NOT_FOLLOWED.has(code)) {
    block.unclear = true;
    return fault(`${code} is not ${own ? 'followed' : 'known'}`);
  }
  if (block.groups.has(own)) fault(`${code} and ${block.groups.get(own)} are of one group`);
  else block.groups.set(own, code);
}
