'use client';

import { createContext, useContext } from 'react';
import { temporal, type TemporalState } from 'zundo';
import { createStore, useStore, type StoreApi } from 'zustand';
import type { z } from 'zod';
import { checkEdit } from '../../core/job/checkEdit';
import {
  type ArtworkInscription,
  type Cut,
  type Inscription,
  type Job,
  type SeriesInscription,
  type TextInscription,
} from '../../core/job/schema';

import type { LoadKind } from '../../core/removal/load';
import { AS_PLANNED, type WhatIf } from '../../core/removal/whatIf';
import type { StepUnit } from '../bench/play/playSteps';
import type { OtherPiece } from './otherPiece';
import type { Piece } from './piece';

export type StationName = 'blank' | 'lettering' | 'lay' | 'cuts' | 'proof' | 'program';
export const STATIONS: readonly StationName[] = ['blank', 'lettering', 'lay', 'cuts', 'proof', 'program'];

/** Edits of one gesture (typing a word, one drag) that come within this of each other are one step of undo, ms. */
const GESTURE_MS = 900;
const UNDO_STEPS = 500;

interface DocumentState {
  job: Job;
}

/** What is looked at, not part of the document and never undone. */
interface ViewState {
  station: StationName;
  /** The inscription whose settings are shown, and all that are handled together; groups come whole. */
  selected: string | null;
  selection: readonly string[];
  /** The guide whose points are shown. */
  guide: string | null;
  /** What is being drawn on the unrolled view. */
  drawing: 'line' | 'arc' | 'path' | null;
  /** Whether something is being dragged on the unrolled view. */
  dragging: boolean;
  /** Snapping grid: mm along and round, or degrees round; 0 for none. */
  gridMm: number;
  gridDeg: number;
  cursor: { x: number; y: number } | null;
  turnDeg: number;
  /** The moment of the program that is shown, s; infinite for the finished piece. */
  playS: number;
  playing: boolean;
  /** How much faster than the machine it plays. */
  playSpeed: number;
  stepUnit: StepUnit;
  /** The one run that is shown cut, or all. */
  onlyRun: number | null;
  accepted: readonly string[];
  /** Whether a place on a free shape is being picked, and whether one is wanted though the blank is still another. */
  picking: boolean;
  wantsShape: boolean;
  /** Whether the stretch of the lay is drawn. */
  showStretch: boolean;
  /** Whether the unrolled sheet is turned by a quarter, and the piece stood on its end in the other view. */
  sheetTurned: boolean;
  standing: boolean;
  /** Whether what is left inside the outlines and cut outside them is shown in colour. */
  comparing: boolean;
  /** Whether the hand measures on the piece, and what it measured last: a place, or a line cut through it, on the sheet, mm. */
  measuring: boolean;
  measured: { kind: 'place'; x: number; y: number } | { kind: 'line'; x0: number; y0: number; x1: number; y1: number } | null;
  /** What is taken to be otherwise at the machine than in the job. */
  whatIf: WhatIf;
  /** A program from elsewhere that is run on the blank in place of the job's own. */
  foreign: { name: string; file: Blob } | null;
  /** Whether the play stops at dangers. */
  stopAtDangers: boolean;
  /** The piece as the program leaves it at the playhead, and whether it is drawn cut. */
  piece: Piece | null;
  engraved: boolean;
  /** A trial that is looked at beside it, and where the line between the two stands, as a share of the view's width. */
  other: OtherPiece | null;
  wipeShare: number;
  /** Whether the blank turns under the tool while it plays, as it does on the machine. */
  followTool: boolean;
  /** What cut lettering is filled with; null for nothing. */
  fill: string | null;
  /** Whether what is cut is coloured by its depth instead of as it looks. */
  byDepth: boolean;
  /** What the trace under the depth ladder shows. */
  loadKind: LoadKind;
}

export type DocumentStore = StoreApi<DocumentState> & { temporal: StoreApi<TemporalState<DocumentState>> };

export interface Bench {
  document: DocumentStore;
  view: StoreApi<ViewState>;
  /**
   * Changes the job if the result is a valid job; else leaves it and says why.
   * @param gesture Edits with the same name in quick succession are undone together.
   */
  edit(gesture: string, recipe: (job: Job) => Job): string | null;
  /** A name that no other edit has, for one that is a step of undo by itself. */
  nameStep(stem: string): string;
  /** Makers of pictures of the views that stand on the page. */
  captures: Map<string, (widthPx: number) => Promise<Blob | null>>;
}

export function createBench(job: Job): Bench {
  const document = createStore<DocumentState>()(
    temporal(() => ({ job }) as DocumentState, { limit: UNDO_STEPS, equality: (a, b) => a.job === b.job }),
  ) as DocumentStore;
  const view = createStore<ViewState>(() => ({
    station: 'lettering',
    selected: job.inscriptions[0]?.id ?? null,
    selection: job.inscriptions.slice(0, 1).map((i) => i.id),
    guide: null,
    drawing: null,
    dragging: false,
    gridMm: 0,
    gridDeg: 0,
    cursor: null,
    turnDeg: 0,
    playS: Infinity,
    playing: false,
    playSpeed: 16,
    stepUnit: 'stroke',
    onlyRun: null,
    accepted: [],
    picking: false,
    wantsShape: false,
    showStretch: false,
    sheetTurned: false,
    standing: false,
    comparing: false,
    measuring: false,
    measured: null,
    whatIf: AS_PLANNED,
    foreign: null,
    stopAtDangers: true,
    piece: null,
    engraved: true,
    other: null,
    wipeShare: 0.5,
    followTool: true,
    fill: null,
    byDepth: false,
    loadKind: 'rate',
  }));
  let lastGesture = '';
  let lastAt = 0;
  let steps = 0;
  return {
    captures: new Map(),
    nameStep: (stem) => `${stem}#${steps++}`,
    document,
    view,
    edit(gesture, recipe) {
      const next = recipe(document.getState().job);
      const checked = checkEdit(document.getState().job, next);
      if (!checked.success) return explain(checked.error);
      const now = Date.now();
      const { pause, resume } = document.temporal.getState();
      // A drag has a name of its own, with a #, and is one step however long the hand rests.
      const goesOn = gesture === lastGesture && (now - lastAt < GESTURE_MS || gesture.includes('#'));
      if (goesOn) pause();
      document.setState({ job: next });
      if (goesOn) resume();
      lastGesture = gesture;
      lastAt = now;
      return null;
    },
  };
}

const explain = (error: z.ZodError): string => {
  const issue = error.issues[0]!;
  return issue.message[0]!.toUpperCase() + issue.message.slice(1);
};

export const BenchContext = createContext<Bench | null>(null);

export function useBench(): Bench {
  const bench = useContext(BenchContext);
  if (!bench) throw new Error('useBench: outside a bench');
  return bench;
}

export const useJob = (): Job => useStore(useBench().document, (s) => s.job);
/** A part of the job: what shows it is drawn again only when that part changes, not at every keystroke elsewhere. */
export const useJobPart = <T>(select: (job: Job) => T): T => useStore(useBench().document, (s) => select(s.job));
export const useView = <T>(select: (view: ViewState) => T): T => useStore(useBench().view, select);

/** New values for some of an inscription's settings, of whatever kind it is. */
export type InscriptionPatch = Partial<TextInscription> | Partial<SeriesInscription> | Partial<ArtworkInscription>;

/** Recipes for the parts of a job. */
export const patchInscription =
  (id: string, patch: InscriptionPatch) =>
  (job: Job): Job => ({
    ...job,
    inscriptions: job.inscriptions.map((i) => (i.id === id ? ({ ...i, ...patch } as Inscription) : i)),
  });

export const patchCut =
  (id: string, patch: Partial<Cut>) =>
  (job: Job): Job => ({
    ...job,
    cuts: job.cuts.map((c) => (c.id === id ? ({ ...c, ...patch } as Cut) : c)),
  });

/** Takes an inscription out, and out of the cuts that name it. */
export const removeInscription =
  (id: string) =>
  (job: Job): Job => ({
    ...job,
    inscriptions: job.inscriptions.filter((i) => i.id !== id),
    cuts: job.cuts.map((c) => (c.targets === 'all' ? c : { ...c, targets: c.targets.filter((t) => t !== id) })),
  });

/** The first id of a kind that is free in the job. */
export function freeId(taken: readonly { id: string }[], stem: string): string {
  const ids = new Set(taken.map((t) => t.id));
  for (let k = 1; ; k++) if (!ids.has(`${stem}${k}`)) return `${stem}${k}`;
}
