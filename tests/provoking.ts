/** Jobs that provoke the findings, one for each. */
import { carveJob, createDomeBlank, lineJob, machineWith } from './support';
import { createArtwork, createBlank, createOnGuide, createSeries, DEFAULT_MACHINE, TABLE_MACHINE } from '../src/core/job/defaults';
import { createZero } from '../src/core/job/zero';
import { createTool } from '../src/core/crib/starterTools';
import { createCut } from '../src/core/cut/kinds/registry';
import { hashBlank } from '../src/core/probe/grid';
import type { Blank, Cut, Guide, Job, TextInscription, Tool } from '../src/core/job/schema';
import type { BlankOf } from '../src/core/job/blankSchema';
import type { ShapeMesh } from '../src/core/shape/shapeMesh';
import type { FindingCode } from '../src/core/findings/finding';

const domeJob: Job & { blank: BlankOf<'free'> } = {
  ...carveJob('BUOY', { carve: { maxDepthMm: 1 }, words: { heightMm: 4, rotationDeg: 0, at: { xMm: 0, turnDeg: 0 } } }),
  blank: createDomeBlank(),
};
export const sound = carveJob('BUOY', { carve: { maxDepthMm: 1 } });
const cutOf = (patch: object, tool: object = {}): Job => carveJob('BUOY', { carve: { maxDepthMm: 1, ...patch }, tool });
/** The same words cut again, with another cutter if it has an id of its own. */
function twoCuts(tool: Partial<Job['tools'][number]>): Job {
  const job = carveJob('BUOY', { carve: { maxDepthMm: 1 } });
  const other = { ...job.tools[0]!, ...tool };
  const tools = tool.id ? [...job.tools, other] : job.tools;
  return { ...job, tools, cuts: [...job.cuts, { ...job.cuts[0]!, id: 'again', name: 'Again', toolId: other.id }] };
}
/** A large R beside RSB, with a tip of 2 mm. */
function twoSizes(heightMm: number, besideMm: number): Job {
  const job = carveJob('R', {
    carve: { maxDepthMm: 3 },
    words: { heightMm, at: { xMm: 25, turnDeg: 0 }, rotationDeg: 0 },
    tool: { tipMm: 2 },
    blank: { diameterMm: 600 },
  });
  const beside = { ...job.inscriptions[0]!, id: 'beside', text: 'RSB', heightMm: besideMm, at: { xMm: 60, turnDeg: 0 } } as TextInscription;
  return { ...job, inscriptions: [beside, ...job.inscriptions] };
}
const motion = (patch: Partial<Job['motion']>): Job => ({ ...sound, motion: { ...sound.motion, ...patch } });

function onGuideJob(text: string, guide: Guide): Job {
  // Counter-clockwise round an arc, what stands above its line stands inside.
  const job = carveJob(text, { words: { onGuide: createOnGuide('g') } });
  return { ...job, guides: [guide] };
}

/** The words on another blank, laid another way. */
function onBlank(blank: Blank, patch: object, words: Partial<TextInscription> = {}, lay: Partial<Job['lay']> = {}): Job {
  const job = carveJob('BUOY', { carve: { maxDepthMm: 1 }, words });
  return { ...job, blank: { ...blank, ...patch } as Blank, lay: { ...job.lay, ...lay } };
}

/** The words cut in another way with an end mill. */
function withCut(cut: Cut, mill: Partial<Tool> = {}): Job {
  const job = carveJob('HOB', { words: { heightMm: 8 } });
  return { ...job, tools: [{ ...createTool('mill', 1, 'mill', 'flat', { diameterMm: 1, fluteLengthMm: 30 }), ...mill }], cuts: [cut] };
}

/** A sharp cutter of 60°, whose flank reaches 0.173 mm aside at 0.3 mm deep (0.3·tan 30°). */
const vee: Partial<Tool> = { kind: 'v', includedDeg: 60, tipMm: 0, diameterMm: 6 };

/** A closed shape about 26 mm by 12. */
const oval = createArtwork('oval', 'oval', 40, [
  {
    name: 'oval',
    on: true,
    rings: [Array.from({ length: 90 }, (_, k) => (2 * Math.PI * k) / 90).flatMap((t) => [13 * Math.cos(t), 6 * Math.sin(t)])],
    chains: [],
  },
]);

/** A cut with a wider end mill before its own, of one shape. */
function withStages(cut: Cut, wideMm: number, shape: Job['inscriptions'][number]): Job {
  const job = withCut(cut);
  const wide = createTool('wide', 2, 'wide', 'flat', { diameterMm: wideMm, fluteLengthMm: 30 });
  const stage = {
    toolId: 'wide',
    levels: { by: 'count', count: 1 },
    feedMmPerMin: 400,
    plungeMmPerMin: 150,
    spindleRpm: 12000,
    stepOverShare: 0.4,
  };
  return { ...job, tools: [...job.tools, wide], inscriptions: [shape], cuts: [{ ...cut, clearing: [stage] } as Cut] };
}

/** One job for each finding, with what its text has to say, and for a free shape what is done to it. */
export const provoked: Record<FindingCode, [Job, RegExp, ((mesh: ShapeMesh) => ShapeMesh)?] | 'read-back'> = {
  'wider-than-turn': [carveJob('FAR TOO LONG FOR THIS LITTLE BLANK', { blank: { diameterMm: 10 } }), /runs [\d.]+° into itself/],
  'overlaps-at-seam': [
    {
      ...carveJob('ONE'),
      inscriptions: [0, 1].map((k) => ({
        ...carveJob('ONE AND TWO').inscriptions[0]!,
        id: `w${k}`,
        at: { xMm: 40, turnDeg: k ? 150 : -150 },
      })),
    },
    /overlap by [\d.]+° round the blank, across the seam or a turn apart/,
  ],
  'travel-short': [
    { ...carveJob('BUOY'), machine: { ...carveJob('BUOY').machine, travelMm: { X: 0, Y: 0, Z: 20 } } },
    /Z goes from 19\.\d to 4\d.* mm, 2\d\.\d mm in all, and the machine's travel is 20\.0 mm/,
  ],
  'file-too-long': [
    { ...carveJob('O', { words: { heightMm: 12 } }), machine: { ...carveJob('BUOY').machine, mostLines: 100, mergeMm: 0 } },
    /A file of the program has \d+ lines, and the machine takes 100: one stroke alone is as long/,
  ],
  'line-too-long': [
    { ...domeJob, machine: { ...TABLE_MACHINE, longestLine: 40, lengthDigits: 6, angleDigits: 6 } },
    /lines of the program, line \d+ the first, have up to \d+ characters, and the machine takes 40/,
  ],
  'travel-left': [
    { ...carveJob('HOH', { words: { at: { xMm: 40, turnDeg: 180 } } }), machine: machineWith({ range: { minDeg: -180, maxDeg: 180 } }) },
    /A goes to [-−]?1[89]\d\.\d °, and it can go to [-−]?180\.0 °: [\d.]+ ° too far/,
  ],
  'nose-too-low': [
    { ...carveJob('BUOY'), machine: { ...carveJob('BUOY').machine, standsAt: { xMm: null, yMm: null, noseMm: 60 } } },
    /nose would have to be 43\.0 mm over the top of the machine, with cutter in it/,
  ],
  'centre-missing': [{ ...carveJob('BUOY'), machine: TABLE_MACHINE }, /nobody has said where the axes of the table meet, and every word/i],
  'in-table': [
    { ...carveJob('BUOY'), machine: TABLE_MACHINE, zero: { ...createZero(), centreMm: { xMm: 0, yMm: 0, zMm: 25 } } },
    /The blank would begin 5\.00 mm inside the table/,
  ],
  'measured-other': [
    { ...sound, measured: { xMm: [40], turnDeg: [0], mm: [[0.1]], follows: true, blank: 'another' } },
    /The blank was measured before it was changed/,
  ],
  'measured-short': [
    { ...sound, measured: { xMm: [20, 30], turnDeg: [0], mm: [[0], [0]], follows: true, blank: hashBlank(sound.blank) } },
    /^"[^"]+" goes [\d.]+ mm past where the blank was measured/,
  ],
  'needs-rotary': [
    { ...carveJob('BUOY'), machine: { ...carveJob('BUOY').machine, layout: { kind: 'table', wrappedAxis: 'Y' } } },
    /"Bench mill, rotary along X" has no rotary, and this blank is lettered as it turns/,
  ],
  'own-block': [
    {
      ...carveJob('BUOY'),
      machine: { ...carveJob('BUOY').machine, ownBlocks: { start: 'G54\nG91 (steps)', change: null, end: 'M9' } },
    },
    /Line 2 of the machine's own start block has "G91": what follows it counts on G90/,
  ],
  'dialect-cannot': [
    { ...carveJob('BUOY'), machine: { ...carveJob('BUOY').machine, dialect: 'short-lines', toolChanger: true, toolLengths: 'table' } },
    /Short lines, for small controls has no words for a change of cutter by a changer, nor for a cutter’s length called from a table/,
  ],
  'crosses-seam': [carveJob('BUOY', { words: { at: { xMm: 40, turnDeg: 175 } } }), /° over the seam/],
  'off-blank': [carveJob('BUOY', { words: { rotationDeg: 0, at: { xMm: 1, turnDeg: 0 } } }), /mm off the datum end/],
  'in-clear-zone': [carveJob('BUOY', { blank: { clearFarMm: 39 } }), /mm into the zone that stays clear at the far end/],
  'over-edge': [
    onBlank(
      createBlank('turned'),
      {
        profile: [
          [0, 40],
          [20, 40],
          [50, 24],
        ].map(([xMm, diameterMm]) => ({ xMm: xMm!, diameterMm: diameterMm!, join: 'corner' as const, bulge: 0 })),
      },
      { at: { xMm: 20, turnDeg: 0 } },
    ),
    /over an edge of the blank, 20.* mm along it, which breaks "B", "U"/,
  ],
  'over-pole': [
    onBlank(createBlank('cone'), { datumDiameterMm: 0 }, { at: { xMm: 3.2, turnDeg: 0 } }, { kind: 'level', letters: 'bent' }),
    /on the pole/,
  ],
  'letters-miss': [
    onBlank(createBlank('cylinder'), {}, { at: { xMm: 40, turnDeg: 90 } }, { kind: 'project', from: 'direction' }),
    /fall.* off the surface|does not land/,
  ],
  'too-steep': [
    onBlank(createBlank('cylinder'), {}, {}, { kind: 'project', steepLimitDeg: 10 }),
    /projected at up to [\d.]+° to the surface/,
  ],
  stretched: [onBlank(createBlank('cylinder'), {}, {}, { kind: 'project' }), /stretched by \+[\d.]+ %/],
  'lay-as-drape': [domeJob, /no rims to wrap along/],
  'shape-missing': [{ ...sound, blank: { ...domeJob.blank, shape: { id: '0'.repeat(64) } } }, /is not here/],
  'patch-missing': [
    domeJob,
    /nothing of "dome" faces/i,
    (mesh) => ({ ...mesh, triangles: mesh.triangles.slice(0, 0), neighbours: mesh.neighbours.slice(0, 0) }),
  ],
  'shape-size': [{ ...domeJob, blank: { ...domeJob.blank, unitMm: 1000 } }, /is 50000 mm at its longest, which is very large/],
  'shape-open': [
    domeJob,
    /has 7 open edges and 2 edges of three faces or more/,
    (mesh) => ({ ...mesh, report: { ...mesh.report, openEdges: 7, crowdedEdges: 2 } }),
  ],
  mirrored: [carveJob('BUOY', { words: { mirrored: true } }), /reads backwards/],
  'left-out': [twoSizes(20, 3), /Nothing of "RSB" is cut as it is drawn/],
  'tip-too-wide': [carveJob('RSB', { words: { heightMm: 3 }, tool: { tipMm: 2 }, blank: { diameterMm: 600 } }), /enters nothing of "RSB"/],
  'cuts-nothing': [carveJob('RSB', { words: { heightMm: 3 }, tool: { tipMm: 2 }, blank: { diameterMm: 600 } }), /cuts nothing at all/],
  'mirrored-program': 'read-back',
  // Planted in programs and seen in what they take away: core/removal/truth.test.ts.
  'rapid-cuts': 'read-back',
  'cuts-still': 'read-back',
  'cuts-without-tool': 'read-back',
  'cuts-through': 'read-back',
  'cuts-clear-end': 'read-back',
  'shank-in-groove': 'read-back',
  'dives-fast': 'read-back',
  'too-much-at-once': 'read-back',
  'cuts-air': 'read-back',
  'body-hits': 'read-back',
  'too-deep': 'read-back',
  'left-standing': 'read-back',
  'stands-cut': 'read-back',
  'tabs-missing': 'read-back',
  'letters-missing': 'read-back',
  'part-loose': 'read-back',
  'left-inside': 'read-back',
  'chuck-hits': 'read-back',
  'asks-too-fast': 'read-back',
  'winds-up': 'read-back',
  'glyph-missing': [carveJob('A語'), /"語" \(U\+8A9E\)/],
  'font-missing': [carveJob('BUOY', { font: 'no-such-font' }), /not in the type case/],
  'font-changed': [carveJob('BUOY', { words: { fontSha256: '0'.repeat(64) } }), /not the file/],
  'glyph-fallback': [
    carveJob('A→B', { font: 'cinzel-bold', words: { fallbackFont: { id: 'dejavu-sans' } }, carve: { maxDepthMm: 1 } }),
    /"→" in "A→B" comes from the second font/,
  ],
  'unknown-word': [carveJob('No. {sreial}'), /\{sreial\} in .* stands for nothing/],
  'guide-empty': [
    onGuideJob('BUOY', { kind: 'line', id: 'g', name: '', from: { xMm: 5, yMm: 0 }, to: { xMm: 5, yMm: 0 } }),
    /has no length/,
  ],
  'off-guide': [
    onGuideJob('FAR LONGER THAN ITS GUIDE', { kind: 'line', id: 'g', name: '', from: { xMm: 40, yMm: -5 }, to: { xMm: 40, yMm: 5 } }),
    /mm past the end/,
  ],
  'letters-collide': [
    onGuideJob('HMHMHMHM', { kind: 'arc', id: 'g', name: '', centre: { xMm: 40, yMm: 0 }, radiusMm: 9, startDeg: 180, sweepDeg: 360 }),
    /run into each other/,
  ],
  'too-many-marks': [
    { ...sound, inscriptions: [{ ...createSeries('s', 'hershey-sans', 20), step: 1e-7 }], cuts: [] },
    /up to 20000 can be cut/,
  ],
  overlaps: [
    {
      ...sound,
      inscriptions: [
        sound.inscriptions[0]!,
        { ...sound.inscriptions[0]!, id: 'other', at: { ...sound.inscriptions[0]!.at, turnDeg: -5 } } as TextInscription,
      ],
    },
    /"BUOY" and "BUOY" lie on each other, over [\d.]+°/,
  ],
  'parts-overlap': [
    carveJob('BUOY', {
      carve: { maxDepthMm: 1 },
      words: { repeat: { alongCount: 1, alongPitchMm: 0, roundCount: 3, roundPitchDeg: 4, words: { kind: 'same' } } },
    }),
    /parts of "BUOY" lie on each other: "BUOY" and "BUOY", and 2 more pairs/i,
  ],
  'fit-missed': [
    carveJob('BUOY', { carve: { maxDepthMm: 1 }, words: { fit: { to: 'length', lengthMm: 7, by: 'spacing' } } }),
    /would lie on each other/,
  ],
  'marks-double': [
    {
      ...sound,
      inscriptions: [{ ...createSeries('s', 'hershey-sans', 40), shape: 'dial', from: 0, to: 360, step: 30, spanDeg: 720 }],
      cuts: [],
    },
    /7 of its marks would fall on others/,
  ],
  'labels-short': [
    {
      ...sound,
      inscriptions: [
        { ...createSeries('s', 'hershey-sans', 40), labels: { ...createSeries('s', 'hershey-sans', 40).labels, every: 5, list: ['A'] } },
      ],
      cuts: [],
    },
    /ends 2 short/,
  ],
  'outside-table': [
    {
      ...sound,
      inscriptions: [
        {
          ...createSeries('s', 'hershey-sans', 20),
          table: [
            { value: 0, share: 0 },
            { value: 5, share: 1 },
          ],
        },
      ],
      cuts: [],
    },
    /over the values of its table/,
  ],
  'upside-down': [carveJob('BUOY', { words: { rotationDeg: -90 } }), /upside down/],
  'empty-lettering': [carveJob(''), /nothing to cut/],
  'not-cut': [{ ...sound, cuts: [] }, /no cut takes "BUOY"/i],
  'nothing-to-cut': [carveJob('BUOY', { font: 'hershey-sans' }), /needs an outline font/],
  'outline-crosses': 'read-back',
  'breaks-through': [lineJob('I', { depthMm: 2 }, { blank: { ...sound.blank, boreMm: 37 } }), /2.000 mm deep and the wall is 1.500 mm/],
  'wall-thin': [lineJob('I', { depthMm: 1 }, { blank: { ...sound.blank, boreMm: 37 } }), /leaves 0.500 mm of wall/],
  'hop-too-low': [motion({ hopHeightMm: -0.5 }), /-0.500 mm does not clear the surface/],
  'gap-too-low': [motion({ approachGapMm: 0 }), /lets the rapid run into the work/],
  'heights-crossed': [motion({ parkHeightMm: 1 }), /park height of 1 mm is under the hop height of 2 mm/],
  'flute-too-short': [cutOf({}, { fluteLengthMm: 0.1 }), /cuts 0.100 mm/],
  'cutter-too-narrow': [cutOf({}, { diameterMm: 0.4 }), /cone ends 0.200 mm over its tip/],
  'wrong-cutter': [cutOf({}, { kind: 'flat' }), /cannot be used for "V-carve", which needs a V cutter/],
  'turns-too-fast': [{ ...sound, machine: machineWith({ maxDegPerMin: 60 }) }, /asks A for \d+°\/min and it does 60/],
  'plunge-too-fast': [cutOf({ plungeMmPerMin: 20000 }), /a plunge of 20000 mm\/min and the machine feeds 3000/],
  'blocks-too-fast': [
    { ...sound, machine: { ...DEFAULT_MACHINE, maxBlocksPerS: 5 } },
    /Up to \d+ blocks a second are asked for, and the control takes 5/,
  ],
  'begins-too-deep': [lineJob('I', { depthMm: 0.2, beginMm: 0.3 }), /begins at 0.300 mm, and is 0.200 mm deep/],
  'too-many-levels': [
    cutOf({ levels: { by: 'step', stepMm: 0.005, even: true, finishMm: 0 }, maxDepthMm: 3 }, { includedDeg: 10 }),
    /goes down in \d+ levels/,
  ],
  'axis-too-fast': [
    { ...cutOf({ feedMmPerMin: 2900 }), machine: { ...DEFAULT_MACHINE, rapidMmPerMin: 500 } },
    /asks X for \d+ mm\/min and it does 500/,
  ],
  'tool-number-twice': [twoCuts({ id: 'second', name: 'other cutter' }), /cutter and other cutter have the same number, T1/i],
  'cut-twice': [twoCuts({}), /"BUOY" is cut 2 times, by "V-carve" and "Again"/],
  'feed-too-fast': [cutOf({ feedMmPerMin: 9000 }), /9000 mm\/min and the machine feeds 3000/],
  'spindle-too-fast': [cutOf({ spindleRpm: 90000 }), /90000 rev\/min and the spindle does 24000/],
  deviation: 'read-back',
  'edge-outside': 'read-back',
  'edge-left': 'read-back',
  'program-fault': 'read-back',
  'wrong-tool': 'read-back',
  'wrong-length': 'read-back',
  'spindle-wrong': 'read-back',
  'change-unsafe': 'read-back',
  'too-low': 'read-back',
  'end-unsafe': 'read-back',
  'corners-wrong': 'read-back',
  'rapid-in-work': [motion({ hopHeightMm: -1, approachGapMm: -1 }), /passes through the blank/],
  'tool-leans': [onBlank(createBlank('cone'), {}, { at: { xMm: 35, turnDeg: 0 } }), /leans by up to 8.1°/],
  'floor-leans': [
    {
      ...withCut({ ...createCut('pocket', 'c', 'mill'), depthMm: 0.5 }, { diameterMm: 1 }),
      blank: { ...createBlank('cone'), datumDiameterMm: 20, farDiameterMm: 80, lengthMm: 60 } as Blank,
    },
    /The flat end of mill leans by up to 26\.6° in "Pocket": its floor lies between 0\.2\d\d and 0\.7\d\d mm deep where 0\.500 is asked for, in "H"/,
  ],
  'leans-too-far': [
    { ...onBlank(createBlank('cone'), { datumDiameterMm: 4, farDiameterMm: 90, lengthMm: 10 }, { at: { xMm: 25, turnDeg: 0 } }) },
    /leaves out \d+ pieces/,
  ],
  'cutter-too-big': [
    onBlank(
      { ...createBlank('arched'), side: 'concave', radiusMm: 5, chordMm: 9.9 },
      {},
      { heightMm: 3, rotationDeg: 0, at: { xMm: 40, turnDeg: 0 } },
    ),
    /hollow of 5.00 mm radius .* needs a radius of 6.0\d mm/,
  ],
  'tool-by-hand': [
    {
      ...sound,
      tools: [sound.tools[0]!, { ...sound.tools[0]!, id: 'b', number: 2 }],
      cuts: [sound.cuts[0]!, { ...sound.cuts[0]!, id: 'again', toolId: 'b' }],
    },
    /2 cutters on a machine without a changer/,
  ],
  'feed-not-reached': [
    { ...cutOf({ feedMmPerMin: 3000 }), machine: { ...DEFAULT_MACHINE, accelerationMmPerS2: 50 } },
    /asks for 3000 mm\/min and runs at \d+ on average/,
  ],
  'cutter-too-wide': [
    withCut({ ...createCut('pocket', 'c', 'mill'), depthMm: 0.3 }, { diameterMm: 6 }),
    /fits nowhere .* the widest that fits is [\d.]+ mm/,
  ],
  'not-reached': [withCut({ ...createCut('pocket', 'c', 'mill'), depthMm: 0.3 }, { diameterMm: 0.6 }), /does not reach [\d.]+ mm²/],
  'nothing-left': [
    withStages({ ...createCut('pocket', 'c', 'mill'), depthMm: 0.3 }, 2, oval),
    /has nothing to do in "Pocket": the cutters before it reach all/,
  ],
  'floor-missing': [
    carveJob('BUOY', { carve: { maxDepthMm: 0.4, sunkMm: 0.3 } }),
    /carved in a floor 0\.300 mm deep, and no cut before it makes one/,
  ],
  'stands-in-cut': [
    {
      ...withCut({ ...createCut('raised', 'r', 'mill'), depthMm: 0.3 }, { diameterMm: 0.6 }),
      cuts: [
        { ...createCut('raised', 'r', 'mill'), depthMm: 0.3 },
        { ...createCut('pocket', 'p', 'mill'), depthMm: 0.3 },
      ],
    },
    /"Pocket" takes [\d.]+ mm² that "Raised" leaves standing/,
  ],
  'slope-past-field': [
    withCut({ ...createCut('raised', 'r', 'mill'), sides: 'ridge', depthMm: 0.3, marginMm: 0.1 }, vee),
    /reaches 0\.17 mm out from the letters at 0\.300 mm deep, past the edge of its field/,
  ],
  'field-not-cleared': [
    withCut({ ...createCut('raised', 'r', 'mill'), sides: 'ridge', depthMm: 0.3, marginMm: 2 }, vee),
    /Nothing clears [\d.]+ mm² of the field of "Raised": its cutter makes the slopes alone, 0\.17 mm out/,
  ],
  'shapes-in-shapes': [
    (() => {
      const job = withCut({ ...createCut('pocket', 'c', 'mill'), depthMm: 0.3 }, { diameterMm: 0.6 });
      return { ...job, inscriptions: [...job.inscriptions, { ...oval, scaleRatio: 2.2 }] };
    })(),
    /"HOB" lies in "oval", and "Pocket" takes both: it stands there/,
  ],
  'field-too-small': [withCut({ ...createCut('raised', 'c', 'mill'), marginMm: 0 }, { diameterMm: 0.6 }), /smaller than the words/],
  'tab-too-long': [
    withCut({
      ...createCut('cut-out', 'c', 'mill'),
      tabs: { count: 9, spacingMm: null, lengthMm: 30, thicknessMm: 0.5, ramped: true, at: [] },
    }),
    /longer together than the way round/,
  ],
  'tab-too-thick': [
    withCut({
      ...createCut('cut-out', 'c', 'mill'),
      tabs: { count: 1, spacingMm: null, lengthMm: 1, thicknessMm: 9, ramped: true, at: [] },
    }),
    /tabs of "Cut-out" are as thick/,
  ],
  'not-through': [withCut({ ...createCut('cut-out', 'c', 'mill'), depthMm: 1, tabs: null }), /1.000 mm deep and the blank is/],
  'cut-after-free': [
    (() => {
      const job = withCut({ ...createCut('cut-out', 'c', 'mill'), depthMm: 3.1, tabs: null });
      return { ...job, cuts: [...job.cuts, { ...createCut('pocket', 'late', 'mill'), name: 'Late', depthMm: 0.2 }] };
    })(),
    /"Late" comes after "Cut-out"/,
  ],
  'slow-floor': [
    carveJob('BUOY', {
      words: { heightMm: 14 },
      tool: { tipMm: 0.1 },
      carve: { maxDepthMm: 0.2 },
      blank: { diameterMm: 60, lengthMm: 120 },
    }),
    /takes [\d.]+ min, most of it to clear flat floors/,
  ],
  'flat-floor': [carveJob('BUOY', { carve: { maxDepthMm: 0.2 } }), /limited to 0.200 mm/],
};

export function provokedJob(code: FindingCode): Job {
  const entry = provoked[code];
  if (entry === 'read-back') throw new Error(code);
  return entry[0];
}
