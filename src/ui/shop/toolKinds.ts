import type { Tool, ToolKind } from '../../core/job/schema';

/** What a kind of cutter is called, and which sizes its tip has. */
interface KindWords {
  name: string;
  /** Name of the tip's size, or null where it has none of its own. */
  tip: string | null;
  isCone: boolean;
  hasCorner?: boolean;
}

export const TOOL_KINDS: Record<ToolKind, KindWords> = {
  v: { name: 'V, flat or sharp tip', tip: 'Tip width', isCone: true },
  'ball-v': { name: 'V, ball tip', tip: 'Ball diameter', isCone: true },
  'taper-ball': { name: 'tapered ball', tip: 'Ball diameter', isCone: true },
  ball: { name: 'ball', tip: null, isCone: false },
  flat: { name: 'flat end mill', tip: null, isCone: false },
  bull: { name: 'bull nose', tip: null, isCone: false, hasCorner: true },
  drill: { name: 'drill', tip: null, isCone: true },
  'centre-drill': { name: 'centre drill', tip: null, isCone: true },
  'half-round': { name: 'half-round point', tip: 'Tip width', isCone: true },
  drag: { name: 'drag point, spindle still', tip: 'Tip width', isCone: true },
};

type SizeField = {
  [K in keyof Tool]: Tool[K] extends number ? K : never;
}[keyof Tool];

/** The sizes that a kind of cutter has, in the order they are typed. */
export function listSizes(kind: ToolKind): { key: SizeField; label: string; quantity: 'length' | 'angle' | 'number' }[] {
  const { tip, isCone, hasCorner } = TOOL_KINDS[kind];
  return [
    { key: 'number', label: 'Number', quantity: 'number' },
    ...(isCone ? [{ key: 'includedDeg', label: 'Included angle', quantity: 'angle' } as const] : []),
    ...(tip ? [{ key: 'tipMm', label: tip, quantity: 'length' } as const] : []),
    { key: 'diameterMm', label: 'Diameter', quantity: 'length' },
    ...(hasCorner ? [{ key: 'cornerMm', label: 'Corner radius', quantity: 'length' } as const] : []),
    { key: 'fluteLengthMm', label: 'Flute length', quantity: 'length' },
    { key: 'flutes', label: 'Flutes', quantity: 'number' },
    { key: 'shankMm', label: 'Shank', quantity: 'length' },
    { key: 'stickOutMm', label: 'Stick-out', quantity: 'length' },
    { key: 'holderMm', label: 'Holder (0: not known)', quantity: 'length' },
    { key: 'holderLengthMm', label: 'Holder length', quantity: 'length' },
  ];
}
