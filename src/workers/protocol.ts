import type { Cut, CutKindId, Tool } from '../core/job/schema';
import type { Sensible } from '../core/suggest/sensible';
import type { StrokeWidths } from '../core/suggest/strokes';
import type { SetFigures, Suggestion } from '../core/suggest/suggest';
import type { BlankOf, Job } from '../core/job/schema';
import type { Patch } from '../core/shape/patch';
import type { ShapeMesh } from '../core/shape/shapeMesh';
import type { MeridianNode } from '../core/surface/meridian';
import type { SetupSheet } from '../core/export/setupSheet';
import type { Finding } from '../core/findings/finding';
import type { Letter } from '../core/lettering/artwork';
import type { Box, Rings } from '../core/base/rings';
import type { CutSummary, PlanProgress } from '../core/pipeline/plan';
import type { Lettering } from '../core/pipeline/lettering';
import type { SurfaceMesh } from '../core/lay/mesh';
import type { LaidPaths } from '../core/lay/laidPaths';
import type { EdgeReport } from '../core/proof/edge';
import type { Fault, Verdict } from '../core/intent/verdict';
import type { Danger } from '../core/removal/dangers';
import type { ProgramFault } from '../core/program/interpreter';
import type { LoadTrace } from '../core/removal/load';
import type { Truth } from '../core/removal/truth';
import type { WhatIf } from '../core/removal/whatIf';
import type { CellGrid } from '../core/removal/cellGrid';
import type { CleanArtwork, CleanOptions, CleanReport } from '../core/import/clean';

/** Lettering as the views draw it, one entry an inscription. */
export interface InscriptionView {
  id: string;
  /** The place it was set at: until it is set anew, a move is shown by moving it whole. */
  at: { xMm: number; turnDeg: number };
  /** SVG path data in sheet mm, y up: areas to fill, and strokes. */
  areaData: string;
  strokeData: string;
  /** Where reading begins, its direction, and which way is up: x, y, then two unit vectors. */
  reading: Float64Array;
  letters: Letter[];
  box: Box;
  frame: Float64Array;
  /** Triangles (outline fonts) and line segments (stroke fonts) on the blank. */
  fill: SurfaceMesh;
  lines: Float32Array;
}

export interface LetteringView {
  inscriptions: InscriptionView[];
  findings: Finding[];
  artworks: Lettering['artworks'];
  computeMs: number;
}

/** Height of an outline run over the surface, mm. */
export const OUTLINE_HEIGHT_MM = 5;

export interface PlanView extends EdgeReport {
  cuts: CutSummary[];
  laid: LaidPaths;
  /** Sheet x, y, depth and end time per block, the laid move it belongs to, its axis values and how long it is meant to take. */
  blocks: {
    count: number;
    sheet: Float64Array;
    move: Uint32Array;
    timesS: Float64Array;
    values: Float64Array;
    feedTimeMin: Float64Array;
  };
  timeS: number;
  stopTimeS: number;
  standingS: number;
  program: ProgramView;
  readBack: { maxTipUm: number; maxAxisUm: number; maxTimeRatio: number };
  /** What stands on the page for the machine; null where nothing moves. */
  sheet: SetupSheet | null;
  /** A program once round the lettering, `OUTLINE_HEIGHT_MM` over the blank, spindle still; null where there is none. */
  outlineRun: string | null;
  findings: Finding[];
  computeMs: number;
}

/** A program as the page shows it: the texts of its parts, and where each block is written. */
export interface ProgramView {
  /** Each file with its name. */
  parts: { name: string; text: string; lines: number }[];
  partOfBlock: Uint16Array;
  lineOfBlock: Uint32Array;
}

export interface LetteringRequest {
  job: Job;
}

export interface PlanRequest {
  job: Job;
  lettering: Lettering;
}

export type Progress = PlanProgress;

/** What a program takes away: to be run as a whole, brought to a moment, or asked about a place of the sheet. */
export type RemovalRequest =
  /**
   * `texts`: one a part. `hand`: ids of the tools in the order in which they are put in by hand. `only`: lines that are to cut, from 0,
   * ends included; null for all. `foreign`: a program from elsewhere in place of the texts, which may be long, and hold arcs, cycles
   * and expressions. `sketch`: in coarse cells, soon.
   */
  | {
      kind: 'run';
      job: Job;
      lettering: Lettering;
      texts: string[];
      hand: string[];
      only: LineSpan[] | null;
      whatIf: WhatIf;
      foreign: Blob | null;
      sketch: boolean;
    }
  | { kind: 'at'; timeS: number }
  | { kind: 'cell'; x: number; y: number }
  /** A file of the piece as it is at the moment: of a solid the lettered patch, or the whole blank. */
  | { kind: 'take'; what: TakenFile; toleranceMm: number; whole: boolean };

/** Lines from one mark in a long text to the next. */
export const LINES_A_MARK = 1000;

export type TakenFile = 'stl' | '3mf' | 'depth';

export interface LineSpan {
  part: number;
  from: number;
  to: number;
}

/** Tiles of the sheet as they are drawn (`core/removal/relief.ts`), one after the other. */
export interface TilePictures {
  /** Place of each among the tiles, along + round · tilesAlong. */
  keys: Uint32Array;
  look: Uint8Array;
  depth: Float32Array;
}

export interface RemovalFigures {
  cellMm: number;
  /** The finest cells that would fit into memory, mm. */
  finestMm: number;
  deepestMm: number;
  bytes: number;
  timeS: number;
}

/** Where a program's motions end: sheet x, y and depth, with their times, lines and tools. */
export interface Way {
  sheet: Float64Array;
  timesS: Float64Array;
  rapid: Uint8Array;
  line: Uint32Array;
  /** Index among the job's tools; -1 for none of them. */
  tool: Int16Array;
}

/** Where the piece is not what was meant, without what a page has no use for. */
export interface VerdictView extends Pick<Verdict, 'slackMm' | 'map'> {
  /** Worst first, at the moment of the program that cut it. */
  faults: (Omit<Fault, 'run' | 'motion'> & { cut: string; timeS: number })[];
}

export type RemovalAnswer =
  | { kind: 'none' }
  | {
      kind: 'run';
      grid: CellGrid;
      pictures: TilePictures;
      figures: RemovalFigures;
      truth: Truth;
      dangers: Danger[];
      /** Null of a sketch, of a part of a program, and of what if. */
      verdict: VerdictView | null;
      load: LoadTrace;
      way: Way;
      /** What could not be read, and what was taken for granted, in a program from elsewhere. */
      faults: ProgramFault[];
      notes: string[];
      /** Byte at which every so many lines of a program from elsewhere begin (`LINES_A_MARK`); empty for the job's own. */
      lineStarts: Float64Array;
      /** Whether it is in coarse cells, as was asked: where little differs from the run before it is fine at once. */
      sketch: boolean;
      computeMs: number;
    }
  | { kind: 'take'; bytes: Uint8Array<ArrayBuffer> | null; refusal: string | null }
  | { kind: 'at'; timeS: number; pictures: TilePictures }
  | { kind: 'cell'; depthMm: number; by: { part: number; line: number; timeS: number } | null };

export interface ImportRequest {
  file: File;
  options: CleanOptions;
  /** Size of a drawing unit where the file does not say it, mm. */
  unitMm: number;
}

/** A file to read into a shape, or a patch to make of one that is kept. */
export type ShapeRequest = { kind: 'import'; file: File } | { kind: 'patch'; blank: BlankOf<'free'>; withMesh: boolean };

export type ShapeAnswer =
  | { kind: 'refused'; text: string }
  | { kind: 'missing' }
  | { kind: 'mesh'; id: string; mesh: ShapeMesh }
  | { kind: 'patch'; patch: Patch | null; mesh: ShapeMesh | null };

/** A meridian to be taken from a drawing, as nodes of a profile. */
export interface ProfileRequest {
  file: File;
  unitMm: number;
  profile: true;
}

export type ProfileAnswer = { ok: true; nodes: MeridianNode[]; notes: string[] } | { ok: false; text: string };

export type ImportAnswer = { ok: true; layers: CleanArtwork['layers']; report: CleanReport; notes: string[] } | { ok: false; text: string };

export type { LoadTrace, Rings };

/** What is asked about the cuts of a job: how wide its strokes are, and with it a new cut, or sets of cuts. */
export interface SuggestRequest {
  job: Job;
  lettering: Lettering;
  crib: readonly Tool[];
  want:
    | { kind: 'strokes' }
    | { kind: 'cut'; cut: CutKindId; id: string; targets: Cut['targets'] }
    | { kind: 'sets' }
    | { kind: 'trials' }
    | { kind: 'program'; cuts: Cut[] };
}

export interface SuggestAnswer {
  strokes: StrokeWidths;
  /** Null if none was asked for, or no cutter can make it. */
  sensible: Sensible | null;
  suggestions: Suggestion[];
  /** Figures of the job's own cuts, and of each trial. */
  figures: SetFigures[];
  /** The program of some cuts: the texts of its parts, and the tools that are put in by hand. */
  program: { texts: string[]; hand: string[] } | null;
}
