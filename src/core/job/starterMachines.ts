import { DEFAULT_MACHINE, DEFAULT_TABLE, TABLE_MACHINE, TILTING_MACHINE } from './defaults';
import type { Machine } from './machineSchema';

/** Machines to start from, one of every layout at least; all are made up. */
export const STARTER_MACHINES: readonly Machine[] = [
  DEFAULT_MACHINE,
  {
    ...DEFAULT_MACHINE,
    id: 'router-rotary',
    name: 'Router, rotary along Y',
    layout: { ...DEFAULT_MACHINE.layout, wrappedAxis: 'X', rotary: { ...DEFAULT_MACHINE.layout.rotary, sense: -1 } },
    feedMode: 'G94',
    lengthDigits: 3,
    angleDigits: 3,
    maxFeedMmPerMin: 6000,
    rapidMmPerMin: 8000,
    accelerationMmPerS2: 600,
    toolChanger: true,
    toolChangeS: 10,
    toolLengths: 'table',
  },
  TILTING_MACHINE,
  {
    ...DEFAULT_MACHINE,
    id: 'plain-table',
    name: 'Engraver, plain table',
    layout: { kind: 'table', wrappedAxis: 'Y' },
    feedMode: 'G94',
    dialect: 'short-lines',
    travelMm: { X: 300, Y: 200, Z: 60 },
    heights: { parkHeightMm: 15, hopHeightMm: 1, approachGapMm: 0.3 },
  },
  TABLE_MACHINE,
  {
    ...TABLE_MACHINE,
    id: 'tilting-table-b',
    name: 'Mill, table tilts on B, control keeps the point',
    dialect: 'tool-point',
    feedMode: 'G94',
    layout: {
      ...TABLE_MACHINE.layout,
      tilt: { ...DEFAULT_TABLE.tilt, letter: 'B', minDeg: -30, maxDeg: 110 },
      turn: { ...DEFAULT_TABLE.turn, range: { minDeg: -360, maxDeg: 360 } },
    },
  },
];
