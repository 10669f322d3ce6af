import { roundTo } from '../base/round';
import type { ArtworkInscription, Face, Job, LayoutOf, Machine, Motion, OnGuide, SeriesInscription, TextInscription } from './schema';
import type { Blank, BlankKind, BlankOf } from './blankSchema';
import { getTurnedSizes } from './blankText';
import type { Fresh, Head } from '../machine/layouts/edit';
import { createProfileNodes } from '../surface/profileShapes';
import { STARTER_TOOLS } from '../crib/starterTools';
import { createLay, createVariables, JOB_VERSION } from './schema';
import { createZero } from './zero';

/** A small bench machine with a rotary along X, as a place to start from. */
export const DEFAULT_MACHINE: Machine & { layout: LayoutOf<'rotary'> } = {
  id: 'bench-rotary',
  name: 'Bench mill, rotary along X',
  layout: {
    kind: 'rotary',
    wrappedAxis: 'Y',
    rotary: { letter: 'A', sense: 1, maxDegPerMin: 7200, accelerationDegPerS2: 1500, chuckMm: 80, tailstockMm: 20, range: null },
  },
  dialect: 'rs274',
  programUnit: 'mm',
  files: 'one',
  travelMm: { X: 0, Y: 0, Z: 0 },
  standsAt: { xMm: null, yMm: null, noseMm: 0 },
  clamps: { highMm: 0, reachMm: 0 },
  feedMode: 'G93',
  lengthDigits: 4,
  angleDigits: 4,
  maxFeedMmPerMin: 3000,
  rapidMmPerMin: 5000,
  accelerationMmPerS2: 400,
  maxSpindleRpm: 24000,
  chordToleranceMm: 0.001,
  cornerToleranceMm: 0.005,
  maxBlocksPerS: 500,
  arcMm: 0.001,
  mergeMm: 0.0005,
  drawer: null,
  toolChanger: false,
  mostLines: 0,
  longestLine: 0,
  fileName: '{job}{part}',
  coolant: 'none',
  ownBlocks: { start: '', change: null, end: '' },
  heights: { parkHeightMm: 25, hopHeightMm: 2, approachGapMm: 0.5 },
  toolChangeS: 120,
  spindleRunUpS: 3,
  toolLengths: 'control',
};

/** A head whose control keeps the tip in place. */
export const DEFAULT_HEAD: Head = {
  letter: 'B',
  sense: 1,
  minDeg: -95,
  maxDeg: 95,
  pivotMm: 0,
  maxDegPerMin: 3600,
  accelerationDegPerS2: 900,
};

/** A mill with a rotary along X and a head that tilts about Y, whose control keeps the tip in place. */
export const TILTING_MACHINE: Machine & { layout: LayoutOf<'rotary-tilting-head'> } = {
  ...DEFAULT_MACHINE,
  id: 'tilting-head',
  name: 'Mill, rotary along X, tilting head',
  toolChanger: true,
  toolChangeS: 10,
  toolLengths: 'table',
  layout: {
    ...DEFAULT_MACHINE.layout,
    kind: 'rotary-tilting-head',
    head: DEFAULT_HEAD,
  },
};

/** A table that tilts about X and turns on itself. */
export const DEFAULT_TABLE: Omit<LayoutOf<'table-table'>, 'kind' | 'wrappedAxis'> = {
  tilt: { letter: 'A', sense: -1, minDeg: -30, maxDeg: 110, maxDegPerMin: 9000, accelerationDegPerS2: 1800 },
  turn: { letter: 'C', sense: -1, maxDegPerMin: 36000, accelerationDegPerS2: 6000, range: null, chuckMm: 80 },
  turnAsideMm: 0,
  tableMm: 200,
  faceMm: -20,
};

/** What a machine begins with where it gets axes that it had not. */
export const FRESH_AXES: Fresh = { rotary: DEFAULT_MACHINE.layout.rotary, head: DEFAULT_HEAD, table: DEFAULT_TABLE };

/** A mill with a table that tilts and turns, whose control works out the axes from the blank's place by itself. */
export const TABLE_MACHINE: Machine & { layout: LayoutOf<'table-table'> } = {
  ...DEFAULT_MACHINE,
  id: 'tilting-table',
  name: 'Mill, tilting and turning table',
  toolChanger: true,
  toolChangeS: 8,
  toolLengths: 'table',
  rapidMmPerMin: 12000,
  accelerationMmPerS2: 1500,
  maxFeedMmPerMin: 6000,
  layout: { kind: 'table-table', wrappedAxis: 'Y', ...DEFAULT_TABLE },
  travelMm: { X: 300, Y: 260, Z: 280 },
  standsAt: { xMm: 150, yMm: 130, noseMm: 320 },
  heights: { parkHeightMm: 20, hopHeightMm: 1.5, approachGapMm: 0.5 },
};

export const DEFAULT_MOTION: Motion = {
  parkHeightMm: 25,
  hopHeightMm: 2,
  approachGapMm: 0.5,
  byCutter: false,
  leadDeg: 0,
  mostTiltDeg: null,
};

/** Where a new inscription stands: centred on a spot. */
const placedAt = (id: string, xMm: number) => ({
  id,
  name: '',
  anchor: 'centre' as const,
  at: { xMm, turnDeg: 0 },
  rotationDeg: 0,
  mirrored: false,
  locked: false,
  hidden: false,
  group: '',
});

const faceOf = (fontId: string): Face => ({
  font: { id: fontId },
  fontSha256: '',
  heightMm: 6,
  heightOf: 'capitals',
  widthRatio: 1,
  slantDeg: 0,
  weightMm: 0,
  letterSpacingMm: 0,
  letterSpacingPercent: 0,
  kerning: true,
  ligatures: true,
});

export const createInscription = (id: string, text: string, fontId: string, xMm: number): TextInscription => ({
  kind: 'text',
  ...placedAt(id, xMm),
  ...faceOf(fontId),
  text,
  fallbackFont: null,
  wordSpacingMm: 0,
  lineSpacingRatio: 1.3,
  justify: 'centre',
  fit: { to: 'none' },
  onGuide: null,
  repeat: null,
});

/** A scale of 0 to 10 by 1, fives and tens longer, tens labelled. */
export const createSeries = (id: string, fontId: string, xMm: number): SeriesInscription => ({
  kind: 'series',
  ...placedAt(id, xMm),
  ...faceOf(fontId),
  heightMm: 2.5,
  shape: 'along',
  from: 0,
  to: 10,
  step: 1,
  spanMm: 40,
  spanDeg: 360,
  radiusMm: 15,
  table: [],
  minor: { every: 1, lengthMm: 2, widthMm: 0 },
  middle: { every: 5, lengthMm: 3, widthMm: 0 },
  major: { every: 10, lengthMm: 4, widthMm: 0 },
  marksTo: 'left',
  labels: { every: 5, decimals: 0, plus: false, prefix: '', suffix: '', list: [], skip: [], side: 'left', gapMm: 1, turn: 'upright' },
});

export const createArtwork = (id: string, source: string, xMm: number, layers: ArtworkInscription['layers']): ArtworkInscription => ({
  kind: 'artwork',
  ...placedAt(id, xMm),
  source,
  scaleRatio: 1,
  layers,
});

export const createOnGuide = (guideId: string): OnGuide => ({
  guideId,
  from: 'middle',
  distanceMm: 0,
  offsetMm: 0,
  side: 'above',
  reversed: false,
  letters: 'turned',
  topGuideId: null,
});

const ROUND = { boreMm: 0, zero: 'axis' as const, seamDeg: 180, clearDatumMm: 0, clearFarMm: 0 };

const blanks: { [K in Exclude<BlankKind, 'free'>]: BlankOf<K> } = {
  plate: {
    kind: 'plate',
    shape: 'rectangle',
    lengthMm: 120,
    widthMm: 60,
    thicknessMm: 5,
    inclineDeg: 0,
    inclineTowards: 'x',
    zero: 'surface',
  },
  cylinder: { kind: 'cylinder', diameterMm: 40, lengthMm: 80, ...ROUND },
  cone: { kind: 'cone', datumDiameterMm: 40, farDiameterMm: 60, lengthMm: 70, given: 'diameters', ...ROUND },
  turned: { kind: 'turned', profile: createProfileNodes('barrel', 50, 70), ...ROUND },
  arched: { kind: 'arched', side: 'convex', radiusMm: 60, chordMm: 60, lengthMm: 100, thicknessMm: 4, mount: 'table', zero: 'surface' },
};

/** A blank of a kind with sizes to start from. */
export const createBlank = <K extends Exclude<BlankKind, 'free'>>(kind: K): BlankOf<K> => blanks[kind] as BlankOf<K>;

/**
 * A blank of another kind that keeps what the old one says of it: diameter, length, bore, seam, zero. A free shape keeps
 * nothing, since it comes from a file.
 */
export function convertBlank(from: Blank, kind: Exclude<BlankKind, 'free'>): Blank {
  if (from.kind === kind) return from;
  const { diameterMm, lengthMm } = getRoughSizes(from);
  const base = createBlank(kind);
  const round =
    'seamDeg' in from
      ? { seamDeg: from.seamDeg, zero: from.zero, clearDatumMm: from.clearDatumMm, clearFarMm: from.clearFarMm, boreMm: 0 }
      : ROUND;
  switch (base.kind) {
    case 'plate':
      return { ...base, lengthMm, widthMm: Math.max(0.5, diameterMm) };
    case 'cylinder':
      return { ...base, ...round, diameterMm: Math.max(0.5, diameterMm), lengthMm };
    case 'cone':
      return { ...base, ...round, datumDiameterMm: diameterMm * 0.7, farDiameterMm: Math.max(0.5, diameterMm), lengthMm };
    case 'turned':
      return { ...base, ...round, profile: createProfileNodes('barrel', Math.max(0.5, diameterMm), lengthMm) };
    case 'arched':
      return { ...base, radiusMm: Math.max(0.5, diameterMm), chordMm: Math.max(0.5, diameterMm), lengthMm };
  }
}

/** Greatest width across and length along of a blank, mm, to make another of. */
function getRoughSizes(blank: Blank): { diameterMm: number; lengthMm: number } {
  switch (blank.kind) {
    case 'cylinder':
      return { diameterMm: blank.diameterMm, lengthMm: blank.lengthMm };
    case 'cone':
      return { diameterMm: Math.max(blank.datumDiameterMm, blank.farDiameterMm), lengthMm: blank.lengthMm };
    case 'turned': {
      const sizes = getTurnedSizes(blank.profile);
      return { diameterMm: roundTo(sizes.diameterMm, 4), lengthMm: Math.max(0.5, sizes.lengthMm) };
    }
    case 'plate':
      return { diameterMm: Math.min(2000, blank.shape === 'disc' ? blank.lengthMm : blank.widthMm), lengthMm: blank.lengthMm };
    case 'arched':
      return { diameterMm: Math.min(2000, blank.chordMm), lengthMm: blank.lengthMm };
    case 'free':
      return { diameterMm: 50, lengthMm: 80 };
  }
}

/** A new job: a brass bar, no lettering yet. */
export const createJob = (name: string): Job => ({
  format: 'hobel-job',
  version: JOB_VERSION,
  name,
  notes: '',
  units: 'mm',
  material: 'brass',
  blank: createBlank('cylinder'),
  lay: createLay(),
  machine: DEFAULT_MACHINE,
  zero: createZero(),
  tools: STARTER_TOOLS.slice(0, 5),
  inscriptions: [],
  guides: [],
  variables: createVariables(),
  cuts: [],
  trials: [],
  motion: DEFAULT_MOTION,
  measured: null,
});
