import { z } from 'zod';
import type { CutCommon } from '../../job/cutSchema';
import { centreLine } from './centreLine';
import { cutOut } from './cutOut';
import { drill } from './drill';
import type { CutKind } from './kind';
import { carving } from './carving';
import { outline } from './outline';
import { pocket } from './pocket';
import { raised } from './raised';

/** Every kind of cut, by its name in stored jobs. */
export const CUT_KINDS = {
  'v-carve': carving,
  'centre-line': centreLine,
  outline,
  pocket,
  raised,
  drill,
  'cut-out': cutOut,
};

export type CutKindId = keyof typeof CUT_KINDS;
type Schemas = (typeof CUT_KINDS)[CutKindId]['schema'];

/** A cut of a job, of whatever kind. */
export const cutSchema = z.discriminatedUnion('kind', Object.values(CUT_KINDS).map((k) => k.schema) as unknown as [Schemas, ...Schemas[]]);
export type Cut = z.infer<Schemas>;
export type CutOf<K extends CutKindId> = Extract<Cut, { kind: K }>;

// A key that is not the `kind` of its schema does not compile.
type Mismatched = { [K in CutKindId]: z.infer<(typeof CUT_KINDS)[K]['schema']>['kind'] extends K ? never : K }[CutKindId];
const keysMatch: [Mismatched] extends [never] ? true : never = true;
void keysMatch;

/** A kind, seen as one that takes any cut: for whoever has a cut and not its kind's name. */
export type AnyCutKind = CutKind<z.ZodType<CutCommon & { kind: string }>>;

/** The kind of a cut. */
export const getCutKind = (cut: Pick<Cut, 'kind'>): AnyCutKind => CUT_KINDS[cut.kind] as unknown as AnyCutKind;

/** A new cut of a kind. */
export const createCut = <K extends CutKindId>(kind: K, id: string, toolId: string): CutOf<K> =>
  CUT_KINDS[kind].create(id, toolId) as unknown as CutOf<K>;

/** Whether lettering is used by its outline or its middle alone: by every cut that is on and takes it, if there is one. */
export function isOutlineOnly(cuts: readonly Cut[], id: string): boolean {
  const own = cuts.filter((c) => c.enabled && (c.targets === 'all' || c.targets.includes(id)));
  return own.length > 0 && own.every((c) => getCutKind(c).outlineOnly === true);
}
