import type { CentreLineCut, Inscription, Job, Machine, Motion, Tool, VCarveCut } from './schema';
import { JOB_VERSION } from './schema';

/** A small bench machine with a rotary along X, as a place to start from. */
export const DEFAULT_MACHINE: Machine = {
  id: 'bench-rotary',
  name: 'Bench mill, rotary along X',
  rotaryLetter: 'A',
  wrappedAxis: 'Y',
  sense: 1,
  feedMode: 'G93',
  lengthDigits: 4,
  angleDigits: 4,
  maxFeedMmPerMin: 3000,
  rapidMmPerMin: 5000,
  maxTurnDegPerMin: 7200,
  accelerationMmPerS2: 400,
  turnAccelerationDegPerS2: 1500,
  maxSpindleRpm: 24000,
  chordToleranceMm: 0.001,
  toolChanger: false,
};

/** The drawer every shop starts with. */
export const STARTER_TOOLS: readonly Tool[] = [
  { id: 'v60', name: '60° V, 0.1 tip', kind: 'v', includedDeg: 60, tipMm: 0.1, diameterMm: 6, fluteLengthMm: 5, flutes: 1, number: 1 },
  { id: 'v90', name: '90° V, sharp', kind: 'v', includedDeg: 90, tipMm: 0, diameterMm: 6, fluteLengthMm: 3, flutes: 2, number: 2 },
  { id: 'v30', name: '30° V, 0.2 tip', kind: 'v', includedDeg: 30, tipMm: 0.2, diameterMm: 3.175, fluteLengthMm: 5.5, flutes: 1, number: 3 },
  { id: 'ball60', name: '60° V, ball 0.2', kind: 'ball-v', includedDeg: 60, tipMm: 0.2, diameterMm: 3.175, fluteLengthMm: 2.6, flutes: 2, number: 4 },
  { id: 'flat05', name: 'End mill 0.5', kind: 'flat', includedDeg: 90, tipMm: 0.5, diameterMm: 0.5, fluteLengthMm: 1.5, flutes: 2, number: 5 },
];

export const DEFAULT_MOTION: Motion = { parkHeightMm: 25, hopHeightMm: 2, approachGapMm: 0.5 };

export const createInscription = (id: string, text: string, fontId: string, xMm: number): Inscription => ({
  id,
  name: '',
  text,
  font: { id: fontId },
  heightMm: 6,
  heightOf: 'capitals',
  letterSpacingMm: 0,
  lineSpacingRatio: 1.3,
  justify: 'centre',
  kerning: true,
  ligatures: true,
  anchor: 'centre',
  at: { xMm, turnDeg: 0 },
  rotationDeg: 0,
  mirrored: false,
});

const cutDefaults = {
  enabled: true,
  targets: 'all' as const,
  levels: { by: 'count' as const, count: 1 },
  plungeMmPerMin: 150,
  spindleRpm: 18000,
  reversible: true,
};

export const createVCarve = (id: string, toolId: string): VCarveCut => ({
  kind: 'v-carve', id, name: 'V-carve', toolId, ...cutDefaults, feedMmPerMin: 500, maxDepthMm: 1.5,
});

export const createCentreLine = (id: string, toolId: string): CentreLineCut => ({
  kind: 'centre-line', id, name: 'Centre-line', toolId, ...cutDefaults, feedMmPerMin: 400, depthMm: 0.15,
});

/** A new job: a brass bar, no lettering yet. */
export const createJob = (name: string): Job => ({
  format: 'hobel-job',
  version: JOB_VERSION,
  name,
  notes: '',
  units: 'mm',
  material: 'brass',
  blank: { kind: 'cylinder', diameterMm: 40, lengthMm: 80, boreMm: 0, zero: 'axis', seamDeg: 180 },
  machine: DEFAULT_MACHINE,
  tools: [...STARTER_TOOLS],
  inscriptions: [],
  cuts: [],
  motion: DEFAULT_MOTION,
});
