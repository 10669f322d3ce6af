import type { Cut, Inscription, Levels } from '../../../../core/job/schema';
import { getTitle } from '../../../../core/job/title';
import { formatLengthUnit, type Units } from '../../../common/format';

/** The lettering of a cut in a sentence. */
export function describeTargets(targets: Cut['targets'], inscriptions: readonly Inscription[]): string {
  if (targets === 'all') return 'all lettering';
  if (targets.length === 0) return 'nothing';
  const byId = new Map(inscriptions.map((i) => [i.id, getTitle(i)]));
  return targets.map((id) => byId.get(id) ?? id).join(', ');
}

/** The levels of a cut in a sentence. */
export function describeLevels(levels: Levels, units: Units): string {
  if (levels.by === 'count') return levels.count === 1 ? 'one level' : `${levels.count} levels`;
  return `${levels.even ? 'even' : 'fixed'} levels of ${formatLengthUnit(levels.stepMm, units)}`;
}

/** Depths of levels: all of a few, the first and the last of many. */
export function describeDepths(levelsMm: readonly number[], units: Units): string {
  const show = (d: number): string => formatLengthUnit(d, units);
  if (levelsMm.length <= 4) return levelsMm.map(show).join(', ');
  return `${show(levelsMm[0]!)} … ${show(levelsMm[levelsMm.length - 1]!)} in ${levelsMm.length} levels`;
}

/** The targets of a cut with one inscription switched on or off. */
export function toggleTarget(targets: Cut['targets'], id: string, on: boolean, inscriptions: readonly Pick<Inscription, 'id'>[]): string[] {
  const now = targets === 'all' ? inscriptions.map((i) => i.id) : targets;
  const others = now.filter((t) => t !== id);
  return on ? [...others, id] : others;
}

/** A list with the item at `from` moved by `by` places. */
export function moveItem<T>(items: readonly T[], from: number, by: number): T[] {
  const out = [...items];
  out.splice(from + by, 0, ...out.splice(from, 1));
  return out;
}
