/** Jobs drawn at random over kinds of cut and their mixtures, blanks and their extremes, lays, layouts, dialects, cutters and lettering. */
import { createTool } from '../../src/core/crib/starterTools';
import { createCut, CUT_KINDS, type CutKindId } from '../../src/core/cut/kinds/registry';
import { createProfile } from '../../src/core/cut/profile';
import { createArtwork, createBlank, createInscription, createSeries } from '../../src/core/job/defaults';
import type { Blank, BlankOf, Cut, Inscription, Job, Machine, Stage, Tool, ToolKind } from '../../src/core/job/schema';
import { STARTER_MACHINES } from '../../src/core/job/starterMachines';
import { createProfileNodes, PROFILE_SHAPES } from '../../src/core/surface/profileShapes';
import { carveJob, createDomeBlank, createRandom } from '../../tests/support';
import { hashBlank, listPlaces } from '../../src/core/probe/grid';
import { createSurface } from '../../src/core/surface/registry';

export interface Drawn {
  seed: number;
  name: string;
  /** What the table counts by. */
  blank: string;
  kinds: readonly CutKindId[];
  job: Job;
}

type Random = ReturnType<typeof createDraws>;

function createDraws(seed: number) {
  const random = createRandom(seed);
  const between = (a: number, b: number): number => a + (b - a) * random();
  /** Even over orders of magnitude: as many small as large. */
  const spread = (a: number, b: number): number => a * (b / a) ** random();
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)]!;
  return { random, between, spread, pick };
}

interface Place {
  blank: Blank;
  name: string;
  /** Middle of the sheet, how far lettering may go along and round it, and whether the machine turns it. */
  xMm: number;
  alongMm: number;
  roundMm: number;
  degPerMm: number;
  turns: boolean;
  /** Depth that is there at the least. */
  wallMm: number;
}

function drawPlace({ between, spread, pick, random }: Random): Place {
  const kind = pick(['plate', 'plate', 'cylinder', 'cylinder', 'cone', 'cone', 'turned', 'arched', 'free'] as const);
  const lengthMm = between(40, 90);
  switch (kind) {
    case 'plate': {
      const inclineDeg = pick([0, 0, between(-30, 30)]);
      const blank = {
        ...createBlank('plate'),
        lengthMm: 90,
        widthMm: 60,
        thicknessMm: PLATE_MM,
        inclineDeg,
        inclineTowards: pick(['x', 'y'] as const),
      };
      return {
        blank,
        name: inclineDeg ? 'plate, inclined' : 'plate',
        xMm: 45,
        alongMm: 80,
        roundMm: 50,
        degPerMm: 1,
        turns: false,
        wallMm: PLATE_MM,
      };
    }
    case 'cylinder': {
      const diameterMm = spread(10, 160);
      const boreMm = pick([0, 0, diameterMm - between(3, 6)]);
      const blank = { ...createBlank('cylinder'), diameterMm, lengthMm, boreMm: Math.max(0, boreMm) };
      const wallMm = boreMm > 0 ? (diameterMm - boreMm) / 2 : diameterMm / 2;
      return {
        blank,
        name: 'cylinder',
        xMm: lengthMm / 2,
        alongMm: lengthMm - 6,
        roundMm: 0.8 * Math.PI * diameterMm,
        degPerMm: 360 / (Math.PI * diameterMm),
        turns: true,
        wallMm,
      };
    }
    case 'cone': {
      const datumDiameterMm = between(16, 90);
      const farDiameterMm = Math.max(8, datumDiameterMm + 2 * lengthMm * Math.tan((between(-45, 45) * Math.PI) / 180));
      const slant = Math.hypot(lengthMm, (farDiameterMm - datumDiameterMm) / 2);
      const least = Math.min(datumDiameterMm, farDiameterMm);
      const mean = (datumDiameterMm + farDiameterMm) / 2;
      const blank = { ...createBlank('cone'), datumDiameterMm, farDiameterMm, lengthMm };
      return {
        blank,
        name: 'cone',
        xMm: slant / 2,
        alongMm: 0.7 * slant,
        roundMm: 0.6 * Math.PI * least,
        degPerMm: 360 / (Math.PI * mean),
        turns: true,
        wallMm: least / 2,
      };
    }
    case 'turned': {
      const diameterMm = between(25, 70);
      const blank = { ...createBlank('turned'), profile: createProfileNodes(pick(PROFILE_SHAPES), diameterMm, lengthMm) } as Blank;
      return {
        blank,
        name: 'turned',
        xMm: lengthMm * between(0.4, 0.6),
        alongMm: lengthMm / 3,
        roundMm: 1.2 * diameterMm,
        degPerMm: 360 / (Math.PI * diameterMm),
        turns: true,
        wallMm: diameterMm / 4,
      };
    }
    case 'arched': {
      const side = pick(['convex', 'concave'] as const),
        radiusMm = spread(40, 320);
      const chordMm = Math.min(1.2 * radiusMm, 70);
      const mount = side === 'convex' ? pick(['table', 'rotary'] as const) : 'table';
      const blank = {
        ...createBlank('arched'),
        side,
        radiusMm,
        chordMm,
        lengthMm,
        thicknessMm: PLATE_MM,
        mount,
        zero: mount === 'rotary' ? 'axis' : 'surface',
      } as BlankOf<'arched'>;
      const turns = mount === 'rotary';
      return {
        blank,
        name: `arched, ${side}`,
        xMm: lengthMm / 2,
        alongMm: lengthMm - 6,
        roundMm: 0.7 * chordMm,
        degPerMm: turns ? 360 / (2 * Math.PI * radiusMm) : 1,
        turns,
        wallMm: PLATE_MM,
      };
    }
    case 'free':
      void random;
      return { blank: createDomeBlank(), name: 'free', xMm: 0, alongMm: 26, roundMm: 26, degPerMm: 1, turns: false, wallMm: 6 };
  }
}

function drawMachine({ between, pick, random }: Random, place: Place): Machine {
  const suits = STARTER_MACHINES.filter(({ layout }) =>
    place.turns
      ? layout.kind !== 'table' && layout.kind !== 'table-table'
      : place.blank.kind === 'free' || place.blank.kind === 'arched' || place.blank.kind === 'plate'
        ? layout.kind !== 'rotary' || place.blank.kind !== 'plate'
        : true,
  );
  const starter = pick(suits.length > 0 ? suits : STARTER_MACHINES);
  const dialect = starter.dialect === 'tool-point' ? 'tool-point' : pick(['rs274', 'rs274', 'iso6983', 'short-lines'] as const);
  const keepsPoint = dialect === 'tool-point';
  return {
    ...starter,
    dialect,
    programUnit: pick(['mm', 'mm', 'in']),
    files: pick(['one', 'one', 'per-cutter', 'per-cut']),
    feedMode: keepsPoint ? 'G94' : pick(['G93', 'G94']),
    lengthDigits: pick([3, 4, 4]),
    angleDigits: pick([3, 4]),
    arcMm: pick([0, 0, 0.002]),
    mergeMm: pick([0, 0, 0.001]),
    toolChanger: dialect !== 'short-lines' && random() < 0.5,
    toolLengths: keepsPoint || (dialect === 'rs274' && random() < 0.5) ? 'table' : 'control',
    travelMm: { X: 0, Y: 0, Z: 0 },
    standsAt: { xMm: null, yMm: null, noseMm: 0 },
    maxSpindleRpm: Math.max(starter.maxSpindleRpm, between(24000, 60000)),
  };
}

const PLATE_MM = 2.5;
const TEXTS = ['AO', 'HB', 'e8&', 'QS', 'R7', 'Ågt', 'W3', 'MIX', 'X'];
const FONTS = ['dejavu-sans-bold', 'cinzel-bold', 'zilla-slab-bold', 'great-vibes'];

const ring = (n: number, rx: number, ry: number): number[] =>
  Array.from({ length: n }, (_, k) => (2 * Math.PI * k) / n).flatMap((t) => [rx * Math.cos(t), ry * Math.sin(t)]);
const box = (w: number, h: number): number[] => [-w, -h, w, -h, w, h, -w, h];

function drawInscription(
  d: Random,
  id: string,
  place: Place,
  kind: CutKindId,
  at: { xMm: number; turnDeg: number },
  sizeMm: number,
): Inscription {
  const { between, pick } = d;
  const rotationDeg = pick([0, 90, 90, between(0, 360)]);
  const wantsLines = kind === 'centre-line' && d.random() < 0.6;
  const shape = pick(['text', 'text', 'text', 'border', 'oval', 'holes', 'series'] as const);
  if (wantsLines || kind === 'centre-line') {
    const font = wantsLines ? pick(['hershey-sans', 'hershey-script']) : pick(FONTS);
    return { ...createInscription(id, pick(TEXTS), font, 40), heightMm: 0.5 * sizeMm, at, rotationDeg };
  }
  const art = (name: string, rings: number[][]): Inscription => ({
    ...createArtwork(id, name, 20, [{ name, on: true, rings, chains: [] }]),
    at,
    rotationDeg,
  });
  const holesOnly = kind === 'drill';
  if (holesOnly || shape === 'holes')
    return art(
      'holes',
      [-1, 0, 1].map((k) => ring(24, 0.08 * sizeMm, 0.08 * sizeMm).map((v, i) => (i % 2 ? v : v + 0.3 * k * sizeMm))),
    );
  if (shape === 'border') {
    const [w, h] = [0.45 * sizeMm, 0.3 * sizeMm];
    const wide = between(0.1, 0.25) * sizeMm;
    return art('border', pick([true, false]) ? [box(w, h), reversed(box(w - wide, h - wide))] : [box(w, h)]);
  }
  if (shape === 'oval') return art('oval', [ring(96, 0.45 * sizeMm, 0.3 * sizeMm)]);
  if (shape === 'series' && place.turns) {
    const made = createSeries(id, 'dejavu-sans-bold', at.xMm);
    return made;
  }
  return { ...createInscription(id, pick(TEXTS), pick(FONTS), 40), heightMm: 0.5 * sizeMm, at, rotationDeg };
}

const reversed = (xy: number[]): number[] =>
  Array.from({ length: xy.length / 2 }, (_, k) => xy.slice(xy.length - 2 - 2 * k, xy.length - 2 * k)).flat();

function drawTool({ between, spread, pick }: Random, id: string, number: number, kinds: readonly ToolKind[], mostMm: number): Tool {
  const kind = pick(kinds.filter((k) => k !== 'drag'));
  const isV = kind === 'v' || kind === 'ball-v' || kind === 'taper-ball' || kind === 'half-round';
  const diameterMm = isV ? spread(4, 14) : spread(0.2, Math.max(0.3, mostMm));
  const includedDeg =
    kind === 'taper-ball' ? pick([10, 20]) : kind === 'drill' ? 118 : kind === 'centre-drill' ? 90 : pick([30, 60, 90, 90, 120]);
  const tipMm = isV ? (kind === 'v' ? pick([0, 0, 0.1, 0.2]) : pick([0.1, 0.2, 0.4])) : 0;
  return createTool(id, number, id, kind, {
    diameterMm,
    includedDeg,
    tipMm,
    cornerMm: kind === 'bull' ? diameterMm * between(0.05, 0.4) : 0,
    fluteLengthMm: 30,
    stickOutMm: 60,
    shankMm: diameterMm,
  });
}

function drawCut(d: Random, kind: CutKindId, k: number, place: Place, sizeMm: number, tools: Tool[]): Cut {
  const { between, pick, random } = d;
  const own = drawTool(
    d,
    `tool${tools.length + 1}`,
    tools.length + 1,
    toolsFor(kind),
    kind === 'pocket' || kind === 'raised' ? sizeMm / 6 : sizeMm / 4,
  );
  tools.push(own);
  const depthMm = Math.min(0.6 * place.wallMm, between(0.1, 1.2));
  const clearing: Stage[] = [];
  const base = createCut(kind, `cut-${k}`, own.id);
  if ('clearing' in base && random() < 0.3) {
    const wide = drawTool(d, `tool${tools.length + 1}`, tools.length + 1, ['flat'], sizeMm / 3);
    tools.push(wide);
    clearing.push({
      toolId: wide.id,
      levels: { by: 'count', count: 1 },
      feedMmPerMin: 500,
      plungeMmPerMin: 150,
      spindleRpm: 15000,
      stepOverShare: 0.4,
    });
  }
  const levels = pick<Cut['levels']>([
    { by: 'count', count: 1 },
    { by: 'count', count: 2 },
    { by: 'step', stepMm: between(0.2, 0.6), even: true, finishMm: 0 },
  ]);
  const thin = place.wallMm <= 3;
  const through = kind === 'cut-out' && thin ? place.wallMm + 0.2 : depthMm;
  const cut = {
    ...base,
    name: `Cut ${k + 1}`,
    targets: [`w${k}`],
    levels,
    ...('depthMm' in base ? { depthMm: kind === 'cut-out' ? through : depthMm } : {}),
    ...('maxDepthMm' in base ? { maxDepthMm: pick([depthMm, 5, 0.4]) } : {}),
    ...('clearing' in base ? { clearing } : {}),
    ...(base.kind === 'outline' ? { side: pick(['on', 'inside', 'outside']), corners: pick(['sharp', 'round', 'loop']) } : {}),
    ...(base.kind === 'pocket' ? { wallMm: pick([0, 0, 0.1]), floorMm: pick([0, 0, 0.05]), finishMm: pick([0, 0, 0.1]) } : {}),
    ...(base.kind === 'raised'
      ? { field: pick(['box', 'offset', 'band']), marginMm: between(0.5, 3), sides: isCone(own) ? pick(['flat-top', 'ridge']) : 'straight' }
      : {}),
    ...(base.kind === 'centre-line' ? { of: 'lines' } : {}),
    ...(base.kind === 'cut-out'
      ? {
          tabs: pick([
            null,
            { count: 3, spacingMm: null, lengthMm: 2, thicknessMm: Math.min(0.4, through / 3), ramped: pick([true, false]), at: [] },
          ]),
          leadRadiusMm: pick([0, 0.5]),
          leadMm: pick([0, 0.5]),
        }
      : {}),
    ...('direction' in base ? { direction: pick(['climb', 'conventional']) } : {}),
  } as Cut;
  return cut.kind === 'raised' && cut.sides === 'ridge' ? giveField(cut, own, tools, sizeMm) : cut;
}

/** A ridge with what it needs, as findings before planning would ask for: a field as wide as its cutter, and a mill that clears it. */
function giveField(cut: Extract<Cut, { kind: 'raised' }>, own: Tool, tools: Tool[], sizeMm: number): Cut {
  const profile = createProfile(own);
  const marginMm = Math.max(cut.marginMm, 1.1 * (profile.halfWidthAt(cut.depthMm) + profile.flatMm) + 0.05);
  if (cut.clearing.length > 0) return { ...cut, marginMm };
  const id = `tool${tools.length + 1}`;
  tools.push(
    createTool(id, tools.length + 1, id, 'flat', { diameterMm: sizeMm / 8, fluteLengthMm: 30, stickOutMm: 60, shankMm: sizeMm / 8 }),
  );
  const speeds = { feedMmPerMin: 500, plungeMmPerMin: 150, spindleRpm: 15000 };
  return { ...cut, marginMm, clearing: [{ toolId: id, levels: { by: 'count', count: 1 }, ...speeds, stepOverShare: 0.4 }] };
}

const isCone = (t: Tool): boolean => t.kind === 'v' || t.kind === 'ball-v' || t.kind === 'half-round';
const toolsFor = (kind: CutKindId): readonly ToolKind[] =>
  kind === 'v-carve' ? ['v', 'v', 'v', 'ball-v', 'taper-ball'] : CUT_KINDS[kind].cutters;

/** Draws a job. Mixtures of up to four cuts, each with lettering of its own, side by side or in one another. */
export function drawJob(seed: number): Drawn {
  const d = createDraws(seed * 2654435761);
  const { between, pick, random } = d;
  const place = drawPlace(d);
  const machine = drawMachine(d, place);
  const count = pick([1, 1, 2, 2, 3, 4]);
  const all = Object.keys(CUT_KINDS) as CutKindId[];
  const kinds = Array.from({ length: count }, () => pick(all)).sort((a, b) => Number(a === 'cut-out') - Number(b === 'cut-out'));
  const tools: Tool[] = [];
  const sizeMm = Math.max(3, Math.min(14, place.alongMm / count - 2, place.roundMm));
  const inscriptions: Inscription[] = [];
  const cuts: Cut[] = [];
  for (const [k, kind] of kinds.entries()) {
    const step = place.alongMm / count;
    const xMm = place.xMm + step * (k - (count - 1) / 2);
    const turnDeg = between(-0.15, 0.15) * place.roundMm * place.degPerMm;
    const inscription = drawInscription(d, `w${k}`, place, kind, { xMm, turnDeg }, sizeMm);
    inscriptions.push(inscription);
    const cut = drawCut(d, kind, k, place, sizeMm, tools);
    const isOutlineFont = inscription.kind === 'text' && 'id' in inscription.font && !inscription.font.id.startsWith('hershey');
    cuts.push(cut.kind === 'centre-line' && isOutlineFont ? { ...cut, of: 'middle' } : cut);
  }
  // A carve in the floor of a pocket, or more in a pocket that takes two drawings.
  if (random() < 0.12) {
    const field: Inscription = {
      ...createArtwork('field', 'field', 20, [{ name: 'field', on: true, rings: [box(0.8 * sizeMm, 0.7 * sizeMm)], chains: [] }]),
      at: inscriptions[0]!.at,
    };
    const mill = createTool('floor', 90, 'floor', 'flat', { diameterMm: between(0.8, 2), fluteLengthMm: 30, stickOutMm: 60 });
    tools.push(mill);
    const depthMm = between(0.15, 0.5);
    inscriptions.push(field);
    cuts.unshift({ ...createCut('pocket', 'floor', 'floor'), name: 'Floor', targets: ['field'], depthMm, stepOverShare: 0.4 });
    const first = cuts[1]!;
    if (first.kind === 'v-carve') cuts[1] = { ...first, sunkMm: pick([depthMm, depthMm, depthMm + 0.2]) };
  }
  const base = carveJob('X');
  const lay = { ...base.lay, kind: pick(['wrap', 'level', 'project', 'drape'] as const), letters: pick(['rigid', 'bent'] as const) };
  const drawn = {
    ...base,
    machine,
    blank: place.blank,
    lay,
    tools,
    inscriptions,
    cuts,
    motion: { ...base.motion, byCutter: pick([false, false, true]) },
  } as Job;
  const measured = random() < 0.15 && place.blank.kind !== 'free' ? measure(drawn, between(0.02, 0.2), between(-180, 180)) : null;
  return {
    seed,
    name: `${seed}: ${place.name}${measured ? ', measured' : ''}, ${lay.kind}, ${machine.name}, ${machine.dialect}, ${kinds.join(' + ')}`,
    blank: place.name,
    kinds,
    job: { ...drawn, measured },
  };
}

function measure({ blank }: Job, mm: number, turnDeg: number): Job['measured'] {
  const { xMm, turnDeg: turns } = listPlaces(blank, createSurface(blank), { along: 4, round: 9, within: null });
  const offAt = (x: number, t: number): number => mm * Math.cos(((t - turnDeg) * Math.PI) / 180) * (1 - x / 300);
  return { xMm, turnDeg: turns, mm: xMm.map((x) => turns.map((t) => offAt(x, t))), follows: true, blank: hashBlank(blank) };
}
