import { computeArea, offsetRings, sharedRings, subtractRings, unionRings } from '../base/boolean';
import { nestRings } from '../base/nest';
import { concatRings, isEmptyRings, type Rings } from '../base/rings';
import { getStages, getSunkMm } from '../job/cutSchema';
import { getTitle } from '../job/title';
import type { CutMeaning } from '../intent/meaning';
import type { Lettering } from '../pipeline/lettering';
import { chooseFor } from '../pipeline/runFaults';
import type { Run, Setup } from '../pipeline/setup';
import { makeFinding, type Finding } from './finding';

/** A floor that lies so much higher or deeper than a carve that is sunk in it is another one, mm. */
const SAME_FLOOR_MM = 0.02;
/** Less area than this is no contradiction, mm². */
const NOTHING_MM2 = 0.01;
/** Chord error of round corners, mm. */
const ROUND_MM = 0.005;

/**
 * Cuts that contradict each other, from what they mean and before anything is planned: a carve in a floor that nobody sinks, what
 * stands in what another takes, a ridge whose field is too narrow or that nobody clears, and shapes in shapes whose meaning is open.
 */
export function findMixtureFaults(setup: Setup, lettering: Lettering): Finding[] {
  const meant = setup.runs
    .filter((run) => run.stage === getStages(run.cut).length && run.kind.cutters.includes(run.tool.kind))
    .flatMap((run) => {
      const arts = chooseFor(run, lettering);
      if (arts.length === 0) return [];
      const taken = arts.map((a) => ({ areas: a.regions, lines: a.chains }));
      const context = { tool: run.tool, before: run.before, work: setup.work };
      return [{ run, arts, meaning: run.kind.means(run.cut, taken, context) }];
    });
  return [
    ...meant.flatMap((own, k) => findMissingFloor(own, meant.slice(0, k), meant.slice(k + 1))),
    ...meant.flatMap((own) => findCutIntoStanding(own, meant)),
    ...meant.flatMap(({ run, meaning }) => findRidgeFaults(run, meaning)),
    ...meant.flatMap(({ run, arts }) => findNested(setup, run, arts)),
  ];
}

interface Meant {
  run: Run;
  meaning: CutMeaning;
}

const placeOf = ({ id, name }: Run) => ({ station: 'cuts', id, name }) as const;

const regionOf = ({ forms }: CutMeaning): Rings =>
  concatRings(forms.flatMap((f) => (f.form === 'area' || f.form === 'roof' || f.form === 'middle' ? [f.region] : [])));

/** A carve that is sunk needs a floor at its depth under all of its letters, cut before it. */
function findMissingFloor({ run, meaning }: Meant, before: readonly Meant[], after: readonly Meant[]): Finding[] {
  const sunkMm = getSunkMm(run.cut);
  const region = regionOf(meaning);
  if (!(sunkMm > 0) || isEmptyRings(region)) return [];
  const floors = (all: readonly Meant[]) =>
    all.flatMap((m) => m.meaning.forms.flatMap((f) => (f.form === 'area' ? [{ ...f, name: m.run.name }] : [])));
  const right = floors(before).filter((f) => Math.abs(f.depthMm - sunkMm) <= SAME_FLOOR_MM);
  const bare = right.length > 0 ? subtractRings(region, unionRings(concatRings(right.map((f) => f.region)))) : region;
  if (!(computeArea(unionRings(bare)) > NOTHING_MM2)) return [];
  const meets = (f: { region: Rings }): boolean => sharedRings(unionRings(f.region), region).areaMm2 > NOTHING_MM2;
  const other = floors(before).find((f) => !right.includes(f) && meets(f));
  const late = floors(after).find((f) => Math.abs(f.depthMm - sunkMm) <= SAME_FLOOR_MM && meets(f));
  const why = other
    ? `"${other.name}" before it makes a floor of ${other.depthMm.toFixed(3)} mm`
    : late
      ? `"${late.name}", which makes that floor, comes after it`
      : right.length > 0
        ? 'the floor there does not reach under all of it'
        : 'no cut before it makes one';
  return [makeFinding('floor-missing', placeOf(run), { name: run.name, sunkMm, why })];
}

/** What one cut leaves standing, and another takes, other than as a whole in its top. */
function findCutIntoStanding({ run, meaning }: Meant, all: readonly Meant[]): Finding[] {
  const { stands } = meaning;
  if (!stands) return [];
  return all.flatMap((other) => {
    if (other.run.cutIndex === run.cutIndex) return [];
    const region = regionOf(other.meaning);
    if (isEmptyRings(region)) return [];
    const own = unionRings(region);
    const shared = sharedRings(own, stands).areaMm2;
    if (shared < NOTHING_MM2) return [];
    // Lettering that lies in the top of what stands is cut into it on purpose.
    const isOnTop = computeArea(subtractRings(own, stands)) < NOTHING_MM2 && computeArea(own) < computeArea(stands) - NOTHING_MM2;
    if (isOnTop) return [];
    return [makeFinding('stands-in-cut', placeOf(other.run), { name: other.run.name, stands: run.name, areaMm2: shared })];
  });
}

/**
 * Letters that slope up to a ridge are cut by a V along their foot, whose other flank reaches out into the field: it must end in it, and
 * what it leaves of the field is an end mill's.
 */
function findRidgeFaults(run: Run, { forms }: CutMeaning): Finding[] {
  const flank = forms.find((f) => f.form === 'flank'),
    field = forms.find((f) => f.form === 'area');
  if (!flank || !field) return [];
  const { region, profile, depthMm } = flank;
  const wideMm = profile.halfWidthAt(depthMm) + profile.flatMm;
  const print = offsetRings(region, wideMm, ROUND_MM);
  const data = { name: run.name, wideMm, depthMm };
  if (computeArea(subtractRings(print, unionRings(concatRings([field.region, region])))) > NOTHING_MM2)
    return [makeFinding('slope-past-field', placeOf(run), data)];
  const leftMm2 = field.cutters.length > 0 ? 0 : computeArea(subtractRings(field.region, print));
  return leftMm2 > NOTHING_MM2 ? [makeFinding('field-not-cleared', placeOf(run), { ...data, leftMm2 })] : [];
}

/** Lettering of one cut that lies in other lettering of the same cut: whether it stands or is cut is asked, not guessed. */
function findNested({ job }: Setup, run: Run, arts: ReturnType<typeof chooseFor>): Finding[] {
  const { cut } = run;
  if (!('nested' in cut) || arts.length < 2) return [];
  const inner = arts.find((a) => arts.some((b) => a !== b && nestsIn(a.regions, b.regions)));
  const outer = inner && arts.find((b) => b !== inner && nestsIn(inner.regions, b.regions));
  if (!inner || !outer) return [];
  const titleOf = (id: string): string => getTitle(job.inscriptions.find((i) => i.id === id)!);
  const data = { name: run.name, inner: titleOf(inner.id), outer: titleOf(outer.id), stands: cut.nested === 'stands' };
  return [makeFinding('shapes-in-shapes', placeOf(run), data)];
}

/** Whether a region lies in the material of another. */
function nestsIn(inner: Rings, outer: Rings): boolean {
  if (isEmptyRings(inner) || isEmptyRings(outer)) return false;
  return (
    computeArea(inner) < computeArea(outer) + NOTHING_MM2 &&
    computeArea(subtractRings(inner, outer)) < NOTHING_MM2 &&
    nestRings([inner, outer]).isNested
  );
}
