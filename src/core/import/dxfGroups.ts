import type DxfParser from 'dxf-parser';

/** A group of a DXF file: its code and its value. */
interface Group {
  code: number;
  value: number | string | boolean;
}
interface Scanner {
  next(): Group;
  isEOF(): boolean;
}

/** An entity with all its groups by code, in the order of the file: what the parser's own readers drop is here. */
export interface GroupEntity {
  type: string;
  layer?: string;
  groups: Map<number, number[]>;
  name?: string;
}

/** Entities of which the parser's own readers drop what is needed: the plane they lie in, weights, tangents. */
const READ_WHOLE = ['CIRCLE', 'ARC', 'ELLIPSE', 'INSERT', 'SPLINE'] as const;

/** Makes a parser keep all groups of the entities of which it drops some. */
export function readWhole(parser: DxfParser): void {
  for (const name of READ_WHOLE) {
    class Handler {
      ForEntityName = name;
      parseEntity(scanner: Scanner): GroupEntity {
        const entity: GroupEntity = { type: name, groups: new Map() };
        for (let group = scanner.next(); group.code !== 0 && !scanner.isEOF(); group = scanner.next()) {
          const { code, value } = group;
          if (code === 8) entity.layer = String(value);
          else if (code === 2) entity.name = String(value);
          else if (typeof value === 'number') {
            const list = entity.groups.get(code);
            if (list) list.push(value);
            else entity.groups.set(code, [value]);
          }
        }
        return entity;
      }
    }
    parser.registerEntityHandler(Handler as never);
  }
}

/** Parts of the file's structure, and of other entities, that are no entities to be drawn. */
const STRUCTURE = new Set(['SECTION', 'ENDSEC', 'EOF', 'BLOCK', 'ENDBLK', 'VERTEX', 'SEQEND', 'ATTRIB']);

/** Entities of the file by name, from its text: how a kind that the parser passes over is noticed. O(lines). */
export function countEntities(text: string): Map<string, number> {
  const counts = new Map<string, number>();
  let section = '';
  let at = 0;
  const nextLine = (): string | null => {
    if (at >= text.length) return null;
    let end = text.indexOf('\n', at);
    if (end < 0) end = text.length;
    const line = text.slice(at, end).trim();
    at = end + 1;
    return line;
  };
  for (let code = nextLine(), value = nextLine(), before = ''; code !== null && value !== null; code = nextLine(), value = nextLine()) {
    if (code === '2' && before === 'SECTION') section = value;
    before = code === '0' ? value : '';
    if (code !== '0' || (section !== 'ENTITIES' && section !== 'BLOCKS') || STRUCTURE.has(value)) continue;
    counts.set(value, (counts.get(value) ?? 0) + 1);
  }
  return counts;
}
