import type { CuttingData, Material, Tool, ToolKind } from '../job/schema';

/** What holds the starter cutters: a small collet nut. */
export const COLLET = { stickOutMm: 22, holderMm: 20, holderLengthMm: 28 } as const;

type Sizes = Pick<Tool, 'diameterMm' | 'fluteLengthMm'> & Partial<Tool>;

/** A cutter of solid carbide in a collet. */
export const createTool = (id: string, number: number, name: string, kind: ToolKind, sizes: Sizes): Tool => ({
  id,
  name,
  kind,
  includedDeg: 90,
  tipMm: 0,
  cornerMm: 0,
  shankMm: sizes.diameterMm,
  ...COLLET,
  made: 'carbide',
  cuttingData: [],
  flutes: 2,
  number,
  ...sizes,
});

const speeds = (
  material: Material,
  spindleRpm: number,
  feedMmPerMin: number,
  plungeMmPerMin: number,
  stepDownMm: number,
  stepOverShare = 0.1,
): CuttingData => ({ material, spindleRpm, feedMmPerMin, plungeMmPerMin, stepDownMm, stepOverShare });

const INCH = 25.4;

/** The drawer every shop starts with. Sizes as such cutters are commonly sold; invented, no maker's list. */
export const STARTER_TOOLS: readonly Tool[] = [
  createTool('v60', 1, '60° V, 0.1 tip', 'v', {
    includedDeg: 60,
    tipMm: 0.1,
    diameterMm: 6,
    fluteLengthMm: 5,
    flutes: 1,
    cuttingData: [speeds('brass', 18000, 500, 150, 0.4), speeds('slate', 12000, 500, 150, 0.5)],
  }),
  createTool('v90', 2, '90° V, sharp', 'v', {
    includedDeg: 90,
    diameterMm: 6,
    fluteLengthMm: 3,
    cuttingData: [speeds('maple', 18000, 1500, 500, 2), speeds('brass', 18000, 600, 200, 0.4)],
  }),
  createTool('v30', 3, '30° V, 0.2 tip', 'v', {
    includedDeg: 30,
    tipMm: 0.2,
    diameterMm: 3.175,
    fluteLengthMm: 5.5,
    flutes: 1,
  }),
  createTool('ball60', 4, '60° V, ball 0.2', 'ball-v', { includedDeg: 60, tipMm: 0.2, diameterMm: 3.175, fluteLengthMm: 2.6 }),
  createTool('flat05', 5, 'End mill 0.5', 'flat', { tipMm: 0.5, diameterMm: 0.5, fluteLengthMm: 1.5, shankMm: 3.175 }),
  createTool('flat1', 6, 'End mill 1', 'flat', { tipMm: 1, diameterMm: 1, fluteLengthMm: 4, shankMm: 3.175 }),
  createTool('flat2', 7, 'End mill 2', 'flat', { tipMm: 2, diameterMm: 2, fluteLengthMm: 8, shankMm: 3.175 }),
  createTool('flat3', 8, 'End mill 3', 'flat', { tipMm: 3, diameterMm: 3, fluteLengthMm: 12, shankMm: 3 }),
  createTool('flat6', 9, 'End mill 6', 'flat', { tipMm: 6, diameterMm: 6, fluteLengthMm: 20, flutes: 3, stickOutMm: 30 }),
  createTool('flat18in', 10, 'End mill 1/8 in', 'flat', { tipMm: INCH / 8, diameterMm: INCH / 8, fluteLengthMm: INCH / 2 }),
  createTool('flat116in', 11, 'End mill 1/16 in', 'flat', {
    tipMm: INCH / 16,
    diameterMm: INCH / 16,
    fluteLengthMm: INCH / 4,
    shankMm: INCH / 8,
  }),
  createTool('ball1', 12, 'Ball 1', 'ball', { tipMm: 1, diameterMm: 1, fluteLengthMm: 4, shankMm: 3.175 }),
  createTool('ball2', 13, 'Ball 2', 'ball', { tipMm: 2, diameterMm: 2, fluteLengthMm: 8, shankMm: 3.175 }),
  createTool('ball3', 14, 'Ball 3', 'ball', { tipMm: 3, diameterMm: 3, fluteLengthMm: 10, shankMm: 3 }),
  createTool('bull6', 15, 'Bull nose 6, corner 0.5', 'bull', { tipMm: 6, diameterMm: 6, cornerMm: 0.5, fluteLengthMm: 18, stickOutMm: 30 }),
  createTool('taper05', 16, 'Tapered ball 0.5, 10°', 'taper-ball', {
    includedDeg: 10,
    tipMm: 0.5,
    diameterMm: 3.175,
    fluteLengthMm: 15,
  }),
  createTool('taper1', 17, 'Tapered ball 1, 8°', 'taper-ball', {
    includedDeg: 8,
    tipMm: 1,
    diameterMm: 6,
    fluteLengthMm: 30,
    stickOutMm: 38,
  }),
  createTool('v90wide', 18, '90° V, Ø 12.7', 'v', {
    includedDeg: 90,
    diameterMm: INCH / 2,
    fluteLengthMm: INCH / 4,
    shankMm: INCH / 4,
    stickOutMm: 28,
    cuttingData: [speeds('maple', 16000, 1800, 600, 3)],
  }),
  createTool('v60wide', 19, '60° V, Ø 12.7', 'v', {
    includedDeg: 60,
    diameterMm: INCH / 2,
    fluteLengthMm: 11,
    shankMm: INCH / 4,
    stickOutMm: 30,
    cuttingData: [speeds('maple', 16000, 1600, 500, 3)],
  }),
  createTool('v120', 20, '120° V, sharp', 'v', { includedDeg: 120, diameterMm: 6, fluteLengthMm: 1.7 }),
  createTool('half20', 21, 'Half-round point, 20°, 0.15', 'half-round', {
    includedDeg: 40,
    tipMm: 0.15,
    diameterMm: 3.175,
    fluteLengthMm: 4.1,
    flutes: 1,
  }),
  createTool('centre', 22, 'Centre drill 60°', 'centre-drill', {
    includedDeg: 60,
    diameterMm: 3.15,
    fluteLengthMm: 4,
    shankMm: 3.15,
    made: 'HSS',
  }),
  createTool('drill2', 23, 'Drill 2', 'drill', { includedDeg: 118, diameterMm: 2, fluteLengthMm: 24, stickOutMm: 30, made: 'HSS' }),
  createTool('drill3', 24, 'Drill 3', 'drill', { includedDeg: 118, diameterMm: 3, fluteLengthMm: 33, stickOutMm: 38, made: 'HSS' }),
  createTool('drag90', 25, 'Diamond 90°, dragged', 'drag', {
    includedDeg: 90,
    tipMm: 0.05,
    diameterMm: 3.175,
    fluteLengthMm: 1.55,
    flutes: 1,
    made: 'diamond',
  }),
];
