import createKit from 'manifold-3d';
import type { Tool } from '../core/job/schema';
import { toDepthMap } from '../core/export/depthMap';
import { toDepthPng } from '../core/export/depthPng';
import { to3mf } from '../core/export/packageModel';
import { createPatchSolid, createPlug, toStl } from '../core/export/patchSolid';
import { carveBlank, type SolidKit } from '../core/export/wholeSolid';
import { createSolid } from '../core/surface/solid';
import { createSetup, type Setup } from '../core/pipeline/setup';
import { DIALECTS } from '../core/program/registry';
import { ForeignReader } from '../core/program/foreign';
import type { ForeignReading } from '../core/program/foreignControl';
import { readProgram, type ProgramReading } from '../core/program/interpreter';
import type { Verdict } from '../core/intent/verdict';
import type { DepthField } from '../core/removal/field';
import type { Tile } from '../core/removal/tile';
import { PICTURE_CELLS, ReliefPainter } from '../core/removal/relief';
import { traceLoad } from '../core/removal/load';
import { isAsPlanned } from '../core/removal/whatIf';
import { proveField } from '../core/removal/proveField';
import type { Removal, Track } from '../core/removal/removal';
import { LINES_A_MARK, type RemovalAnswer, type RemovalRequest, type TilePictures, type VerdictView, type Way } from './protocol';
import { serve, type CallTools } from './serve';
import { ensureShape, workerShapes } from './shapes';

/** How much coarser the cells of a first sketch are. */
const SKETCH_COARSER = 3;
/** Shortest span of the load's trace, s: no machine feels less. */
const LOAD_SPAN_S = 0.2;
const NEWLINE = 10;

/** The removal that questions are about, with what draws it; kept until another program is run. */
let now: { removal: Removal; painter: ReliefPainter; setup: Setup; deepestMm: number } | null = null;

/** The last run of a job's own program as planned, for the next to go on from, and the blank and machine it was run on. */
let last: { removal: Removal; stock: string } | null = null;

serve<RemovalRequest, RemovalAnswer, number>(async (request, tools) => {
  if (request.kind === 'run') return run(request, tools);
  if (!now) return { answer: { kind: 'none' } };
  if (request.kind === 'at') {
    const pictures = paint(withNeighbours(now.removal.field, now.removal.goTo(request.timeS)));
    return { answer: { kind: 'at', timeS: request.timeS, pictures }, transfer: buffersOf(pictures) };
  }
  if (request.kind === 'take') return take(request);
  const found = now.removal.field.locate(request.x, request.y);
  const motion = found ? found.tile.motion[found.cell]! - 1 : -1;
  const { track } = now.removal;
  const depthMm = found ? found.tile.depth[found.cell]! : 0;
  const by = motion < 0 ? null : { part: track.part[motion]!, line: track.line[motion]!, timeS: track.timesS[motion]! };
  return { answer: { kind: 'cell', depthMm, by } };
});

let kit: Promise<SolidKit> | null = null;
/** Booleans of solids, loaded when first asked for. */
const getKit = (): Promise<SolidKit> =>
  (kit ??= createKit({ locateFile: () => '/resources/manifold.wasm' }).then((made) => {
    made.setup();
    return made;
  }));

async function take({
  what,
  toleranceMm,
  whole,
}: Extract<RemovalRequest, { kind: 'take' }>): Promise<{ answer: RemovalAnswer; transfer: Transferable[] }> {
  const { removal, setup } = now!;
  try {
    let made: Uint8Array | null = null;
    if (what === 'depth') {
      const map = toDepthMap(removal.field);
      made = map && toDepthPng(map);
    } else {
      const solid = whole
        ? carveBlank(
            await getKit(),
            createSolid(setup.job.blank, toleranceMm, workerShapes),
            createPlug(removal.field, setup.surface, toleranceMm),
          )
        : createPatchSolid(removal.field, setup.work, toleranceMm);
      made = solid && (what === 'stl' ? toStl(solid, whole ? 'engraved blank, mm' : undefined) : to3mf(solid));
    }
    const bytes = made && new Uint8Array(made);
    return { answer: { kind: 'take', bytes, refusal: bytes ? null : 'nothing is cut yet' }, transfer: bytes ? [bytes.buffer] : [] };
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    return { answer: { kind: 'take', bytes: null, refusal: error.message }, transfer: [] };
  }
}

async function run(
  { job, lettering, texts, hand, only, whatIf, foreign, sketch }: Extract<RemovalRequest, { kind: 'run' }>,
  { drive, onProgress }: CallTools<number>,
): Promise<{ answer: RemovalAnswer; transfer: Transferable[] }> {
  // Only what was run as planned can be gone on from: the rest is another piece.
  const isPlanned = only === null && !foreign && isAsPlanned(whatIf);
  const stock = JSON.stringify([job.blank, job.machine]);
  const after = isPlanned && last?.stock === stock ? last.removal : null;
  now = null;
  if (isPlanned) last = null;
  await ensureShape(job);
  const start = performance.now();
  const setup = createSetup(job, workerShapes);
  const { rules } = DIALECTS[job.machine.dialect];
  const readings: ProgramReading[] = [];
  const notes: string[] = [];
  let lineStarts = new Float64Array(0);
  if (foreign) {
    const read = await readStream(foreign, rules.keepsPoint ?? null, drive);
    readings.push(read.reading);
    notes.push(...read.reading.notes);
    lineStarts = read.lineStarts;
  } else for (const text of texts) readings.push(await drive(readProgram(text, rules)));
  const toolOf = new Map<string, Tool>(job.tools.map((t) => [t.id, t]));
  onProgress(0);
  // Without it the whole program cuts, and the piece is judged.
  const takes =
    only &&
    ((track: Track, i: number): boolean =>
      only.some((o) => track.part[i] === o.part && track.line[i]! >= o.from && track.line[i]! <= o.to));
  const {
    removal,
    choice,
    truth,
    dangers,
    verdict,
    sketch: isSketch,
  } = await drive(
    proveField(
      setup,
      lettering,
      readings,
      hand.map((id) => toolOf.get(id)!),
      null,
      { whatIf, takes: takes ?? undefined, coarser: sketch ? SKETCH_COARSER : 1, after },
    ),
  );
  let deepestMm = 0;
  for (const { depth } of removal.field.tiles) for (const d of depth) if (d > deepestMm) deepestMm = d;
  const { grid } = removal.field;
  const { track } = removal;
  if (isPlanned && !isSketch) last = { removal, stock };
  now = { removal, painter: new ReliefPainter(removal.field), setup, deepestMm };
  const pictures = paint(removal.field.tiles);
  const timeS = track.timesS[track.count - 1] ?? 0;
  const { cellMm } = truth;
  const figures = { cellMm, finestMm: choice.finestMm, deepestMm, bytes: removal.bytes, timeS };
  const load = traceLoad(setup, removal, LOAD_SPAN_S);
  const way = traceWay(setup, track);
  const faults = readings.flatMap((r) => r.faults);
  const answer = {
    kind: 'run',
    grid,
    pictures,
    figures,
    truth,
    dangers,
    verdict: verdict && toVerdictView(verdict, track),
    load,
    way,
    faults,
    notes,
    lineStarts,
    sketch: isSketch,
    computeMs: performance.now() - start,
  } as const;
  return {
    answer,
    transfer: [
      ...buffersOf(pictures),
      load.timesS.buffer as ArrayBuffer,
      ...[load.rate, load.section, load.engaged].map((t) => t.buffer as ArrayBuffer),
    ],
  };
}

const toVerdictView = ({ faults, slackMm, map }: Verdict, track: Track): VerdictView => ({
  faults: faults.map(({ run: { name: cut }, motion, ...fault }) => ({ ...fault, cut, timeS: track.timesS[motion] ?? Infinity })),
  slackMm,
  map,
});

/** Reads a program from elsewhere as it comes off the disk, and notes where its lines begin. */
async function readStream(
  file: Blob,
  keepsPoint: string | null,
  drive: CallTools<number>['drive'],
): Promise<{ reading: ForeignReading; lineStarts: Float64Array<ArrayBuffer> }> {
  const reader = new ForeignReader(file.size, keepsPoint);
  const decoder = new TextDecoder();
  const marks = [0];
  let at = 0,
    lines = 0;
  const source = file.stream().getReader();
  for (;;) {
    const { done, value } = await source.read();
    if (done) break;
    for (let k = value.indexOf(NEWLINE); k >= 0; k = value.indexOf(NEWLINE, k + 1))
      if (++lines % LINES_A_MARK === 0) marks.push(at + k + 1);
    at += value.length;
    if (!reader.isDone) await drive(reader.read(decoder.decode(value, { stream: true })));
  }
  return { reading: reader.finish(), lineStarts: Float64Array.from(marks) };
}

/** Where each motion ends on the sheet. */
function traceWay({ kinematics, work }: Setup, track: Track): Way {
  const n = kinematics.axes.length;
  const sheet = new Float64Array(3 * track.count);
  const tip = new Float64Array(3),
    axis = new Float64Array(3);
  for (let i = 0; i < track.count; i++) {
    kinematics.forward(track.values.subarray(n * i, n * (i + 1)), tip, axis);
    const at = work.toSheet(tip[0]!, tip[1]!, tip[2]!);
    sheet.set([at.x, at.y, -at.heightMm], 3 * i);
  }
  const { count, timesS, rapid, line, tool } = track;
  return { sheet, timesS: timesS.slice(), rapid: rapid.slice(0, count), line: line.slice(0, count), tool: tool.slice(0, count) };
}

function paint(tiles: readonly Tile[]): TilePictures {
  const { painter, deepestMm } = now!;
  const keys = Uint32Array.from(tiles, (t) => t.key);
  const look = new Uint8Array(4 * PICTURE_CELLS * tiles.length);
  const depth = new Float32Array(PICTURE_CELLS * tiles.length);
  for (const [k, tile] of tiles.entries()) {
    const own = PICTURE_CELLS * k;
    painter.paint(tile, deepestMm, look.subarray(4 * own, 4 * (own + PICTURE_CELLS)), depth.subarray(own, own + PICTURE_CELLS));
  }
  return { keys, look, depth };
}

/** Tiles and those beside them: a picture shows a cell of each neighbour. */
function withNeighbours(field: DepthField, tiles: ReadonlySet<Tile>): Tile[] {
  const { tilesAlong, tilesRound, closed } = field.grid;
  const all = new Set(tiles);
  for (const { key } of tiles) {
    const a = key % tilesAlong,
      r = Math.floor(key / tilesAlong);
    for (const [i, j] of [
      [a - 1, r],
      [a + 1, r],
      [a, r - 1],
      [a, r + 1],
    ] as const) {
      const round = closed ? (j + tilesRound) % tilesRound : j;
      if (i < 0 || i >= tilesAlong || round < 0 || round >= tilesRound) continue;
      const tile = field.find(i, round);
      if (tile) all.add(tile);
    }
  }
  return [...all];
}

const buffersOf = ({ keys, look, depth }: TilePictures): Transferable[] => [keys, look, depth].map((a) => a.buffer as ArrayBuffer);
