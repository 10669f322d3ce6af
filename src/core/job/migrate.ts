import { createInscription } from './defaults';
import { createLay } from './laySchema';
import { createVariables } from './variablesSchema';

type Loose = Record<string, unknown>;
const isObject = (value: unknown): value is Loose => typeof value === 'object' && value !== null && !Array.isArray(value);

/** One step a version: takes a document of that version to the next. Keys it does not know are left for the schema to refuse. */
const steps: Record<number, (job: Loose) => Loose> = {
  // Version 1 knew wording only, and no guides or variables.
  1: (job) => {
    const {
      kind,
      locked,
      hidden,
      group,
      fontSha256,
      widthRatio,
      slantDeg,
      weightMm,
      letterSpacingPercent,
      fallbackFont,
      wordSpacingMm,
      fit,
      onGuide,
      repeat,
    } = createInscription('x', '', 'x', 0);
    const added = {
      kind,
      locked,
      hidden,
      group,
      fontSha256,
      widthRatio,
      slantDeg,
      weightMm,
      letterSpacingPercent,
      fallbackFont,
      wordSpacingMm,
      fit,
      onGuide,
      repeat,
    };
    return {
      ...job,
      version: 2,
      inscriptions: Array.isArray(job.inscriptions)
        ? job.inscriptions.map((i: unknown) => (isObject(i) ? { ...added, ...i } : i))
        : job.inscriptions,
      guides: [],
      variables: createVariables(),
    };
  },
  // Version 2 knew cylinders, laid round like a label, and tools that stand upright.
  2: (job) => ({
    ...job,
    version: 3,
    lay: createLay(),
    blank: isObject(job.blank) ? { clearDatumMm: 0, clearFarMm: 0, ...job.blank } : job.blank,
    machine: isObject(job.machine) ? { tilt: null, ...job.machine } : job.machine,
  }),
  // Version 3 described every machine by the same flat list of axes.
  3: (job) => ({ ...job, version: 4, machine: giveLayout(job.machine) }),
  // Version 4 said nothing of corners, changes and run-up, and beside an arc a smooth join did nothing.
  4: (job) => ({ ...job, version: 5, machine: giveTimes(job.machine), blank: keepCorners(job.blank) }),
  // Version 5 knew nothing of what stands above the flutes, nor of what holds the blank.
  5: (job) => ({
    ...job,
    version: 6,
    tools: Array.isArray(job.tools) ? job.tools.map(migrateTool) : job.tools,
    machine: giveHolding(job.machine),
  }),
  // Version 11 filled closed shapes as one, whatever lay in them.
  11: (job) => ({
    ...job,
    version: 12,
    cuts: giveNested(job.cuts),
    trials: Array.isArray(job.trials) ? job.trials.map((t: unknown) => (isObject(t) ? { ...t, cuts: giveNested(t.cuts) } : t)) : job.trials,
  }),
  // Version 10 knew no table that tilts, no limits of what turns, no lead, and took every blank to be as round as it was drawn.
  10: (job) => ({
    ...job,
    version: 11,
    machine: giveReach(job.machine),
    zero: isObject(job.zero) ? { centreMm: null, ...job.zero } : job.zero,
    motion: isObject(job.motion) ? { leadDeg: 0, mostTiltDeg: null, ...job.motion } : job.motion,
    measured: null,
  }),
  // Version 9 had its zero at the datum end and turn 0, and knew no blocks of a machine's own, no coolant and no heights of it; it carved
  // from the blank's surface alone, and began a pocket's last pass where it came.
  9: (job) => ({
    ...job,
    version: 10,
    machine: giveOwnBlocks(job.machine),
    zero: { along: 'datum', across: 'middle', turnDeg: 0 },
    cuts: giveFloors(job.cuts),
    trials: Array.isArray(job.trials) ? job.trials.map((t: unknown) => (isObject(t) ? { ...t, cuts: giveFloors(t.cuts) } : t)) : job.trials,
  }),
  // Version 8 wrote every program in millimetres and into one file.
  8: (job) => ({ ...job, version: 9, machine: giveFiles(job.machine) }),
  // Version 7 knew levels that cut a stroke off alone, from the surface down, and one hop height for all cuts.
  7: (job) => ({
    ...job,
    version: 8,
    machine: giveDrawerAndArcs(job.machine),
    cuts: migrateCuts(job.cuts),
    trials: Array.isArray(job.trials)
      ? job.trials.map((t: unknown) => (isObject(t) ? { ...t, cuts: migrateCuts(t.cuts) } : t))
      : job.trials,
  }),
  // Version 6 knew two kinds of cut with one cutter each.
  6: (job) => ({
    ...job,
    version: 7,
    trials: [],
    tools: Array.isArray(job.tools) ? job.tools.map(migrateTool) : job.tools,
    machine: giveBlocks(job.machine),
    motion: isObject(job.motion) ? { byCutter: false, ...job.motion } : job.motion,
    cuts: Array.isArray(job.cuts)
      ? job.cuts.map((c: unknown) => (isObject(c) && c.kind === 'v-carve' ? { clearing: [], ...c } : c))
      : job.cuts,
  }),
};

/** A turned blank whose joins beside arcs stay the corners that they were. */
function keepCorners(blank: unknown): unknown {
  if (!isObject(blank) || blank.kind !== 'turned' || !Array.isArray(blank.profile)) return blank;
  const nodes: unknown[] = blank.profile;
  const isArc = (n: unknown): boolean => isObject(n) && n.bulge !== 0;
  const profile = nodes.map((n, i) => (isObject(n) && (isArc(n) || isArc(nodes[i - 1])) ? { ...n, join: 'corner' } : n));
  return { ...blank, profile };
}

/** Takes a document of an older version up to the one this code writes; anything else comes back as it is. */
export function migrateJob(value: unknown): unknown {
  let job = value;
  while (isObject(job) && typeof job.version === 'number' && steps[job.version]) job = steps[job.version]!(job);
  return job;
}

/** Takes a machine of any older form to today's; anything else comes back as it is. Machines are stored in jobs and by themselves. */
export const migrateMachine = (value: unknown): unknown =>
  giveReach(giveOwnBlocks(giveFiles(giveDrawerAndArcs(giveBlocks(giveHolding(giveTimes(giveLayout(value))))))));

/** Takes a tool of any older form to today's: a shank as thick as the cutter, a holder of which nothing is known, no speeds. */
export function migrateTool(value: unknown): unknown {
  if (!isObject(value) || 'cuttingData' in value) return value;
  const { diameterMm, fluteLengthMm } = value;
  const stickOutMm = typeof fluteLengthMm === 'number' ? Math.min(500, Math.max(20, 2 * fluteLengthMm)) : 20;
  return { shankMm: diameterMm, stickOutMm, holderMm: 0, holderLengthMm: 0, cornerMm: 0, made: '', cuttingData: [], ...value };
}

/** What holds the blank, of which nothing was known. */
function giveHolding(value: unknown): unknown {
  if (!isObject(value) || !isObject(value.layout) || !isObject(value.layout.rotary) || 'chuckMm' in value.layout.rotary) return value;
  return { ...value, layout: { ...value.layout, rotary: { ...value.layout.rotary, chuckMm: 0, tailstockMm: 0 } } };
}

/** Cuts of version 7 as they were: from the surface, cut off by their levels, crossed at the job's height, holes without a stay. */
function migrateCuts(cuts: unknown): unknown {
  if (!Array.isArray(cuts)) return cuts;
  const own: Record<string, object> = {
    drill: { dwellS: 0 },
    'centre-line': { of: 'lines' },
    'v-carve': { finishing: false },
    pocket: { keepDown: false },
    raised: { keepDown: false },
    outline: { startsAt: [] },
    'cut-out': { startsAt: [] },
  };
  return cuts.map((c: unknown) =>
    isObject(c)
      ? { levelsBy: 'clip', beginMm: 0, hopHeightMm: null, ...(typeof c.kind === 'string' ? own[c.kind] : {}), ...c, ...giveTabPlaces(c) }
      : c,
  );
}

/** The floor that a carve is made in, and where a pocket's last pass begins, where they do not say so yet: the surface; as it comes. */
function giveFloors(cuts: unknown): unknown {
  if (!Array.isArray(cuts)) return cuts;
  const own: Record<string, object> = { 'v-carve': { sunkMm: 0 }, pocket: { startsAt: [] } };
  return cuts.map((c: unknown) => (isObject(c) && typeof c.kind === 'string' && own[c.kind] ? { ...own[c.kind], ...c } : c));
}

/** What becomes of shapes in shapes, where a cut does not say so yet: they are cut as one, as they were. */
function giveNested(cuts: unknown): unknown {
  if (!Array.isArray(cuts)) return cuts;
  return cuts.map((c: unknown) => (isObject(c) && (c.kind === 'pocket' || c.kind === 'v-carve') ? { nested: 'one', ...c } : c));
}

/** Tabs were set by shares of the way, which no page ever wrote; they are places on the sheet now. */
const giveTabPlaces = ({ tabs }: Record<string, unknown>): object => (isObject(tabs) ? { tabs: { ...tabs, at: [] } } : {});

/** Which cutters a machine has, and whether it takes arcs, where it does not say so yet: all of the crib, by their own numbers; none. */
function giveDrawerAndArcs(value: unknown): unknown {
  return !isObject(value) || 'arcMm' in value ? value : { drawer: null, ...value, arcMm: 0 };
}

/** The unit and the files of a machine's programs and its travel, where it does not say so yet: nothing is known of it. */
function giveFiles(value: unknown): unknown {
  return !isObject(value) || 'files' in value ? value : { programUnit: 'mm', travelMm: { X: 0, Y: 0, Z: 0 }, ...value, files: 'one' };
}

/** Blocks of its own, coolant and heights, where a machine does not say so yet: none, and those of a new job. */
function giveOwnBlocks(value: unknown): unknown {
  if (!isObject(value) || 'ownBlocks' in value) return value;
  const heights = { parkHeightMm: 25, hopHeightMm: 2, approachGapMm: 0.5 };
  return { mostLines: 0, coolant: 'none', heights, ...value, ownBlocks: { start: '', change: null, end: '' } };
}

/** How far what turns may go, clamps, names of files and lengths of lines, where a machine does not say so yet: no limit, none. */
function giveReach(value: unknown): unknown {
  if (!isObject(value)) return value;
  const { layout } = value;
  const isLimited = !isObject(layout) || !isObject(layout.rotary) || 'range' in layout.rotary;
  if ('fileName' in value && isLimited) return value;
  const rotary = isObject(layout) && isObject(layout.rotary) ? { rotary: { range: null, ...layout.rotary } } : {};
  return {
    ...{ standsAt: { xMm: null, yMm: null, noseMm: 0 }, clamps: { highMm: 0, reachMm: 0 }, longestLine: 0, fileName: '{job}{part}' },
    ...value,
    layout: isObject(layout) ? { ...layout, ...rotary } : layout,
  };
}

/** How many blocks a machine takes, where it does not say so yet; its programs keep as many as they had. */
function giveBlocks(value: unknown): unknown {
  return !isObject(value) || 'mergeMm' in value ? value : { ...value, maxBlocksPerS: 1000, mergeMm: 0 };
}

/** A machine of the flat form, with a rotary and perhaps a tilting head, to the one with a layout. */
function giveLayout(value: unknown): unknown {
  if (!isObject(value) || 'layout' in value) return value;
  const { rotaryLetter, wrappedAxis, sense, maxTurnDegPerMin, turnAccelerationDegPerS2, tilt, ...rest } = value;
  const rotary = { letter: rotaryLetter, sense, maxDegPerMin: maxTurnDegPerMin, accelerationDegPerS2: turnAccelerationDegPerS2 };
  const layout = isObject(tilt)
    ? { kind: 'rotary-tilting-head', wrappedAxis, rotary, head: tilt }
    : { kind: 'rotary', wrappedAxis, rotary };
  return { ...rest, layout, dialect: 'rs274', toolLengths: value.toolChanger === true ? 'table' : 'control' };
}

/** How a machine treats corners and how long it stands for changes, where it does not say so yet. */
function giveTimes(value: unknown): unknown {
  if (!isObject(value) || 'cornerToleranceMm' in value) return value;
  return { ...value, cornerToleranceMm: 0.005, toolChangeS: value.toolChanger === true ? 10 : 120, spindleRunUpS: 3 };
}
