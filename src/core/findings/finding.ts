/**
 * `spoils`: would ruin the piece; stops the download until acknowledged. `warns`: cuts, but not as asked.
 * `notes`: worth knowing.
 */
export type Severity = 'spoils' | 'warns' | 'notes';

export type Station = 'blank' | 'lettering' | 'lay' | 'cuts' | 'proof' | 'program';

/** Where a finding is: the station that cures it, and the thing or place meant. */
export interface Where {
  station: Station;
  /** Id of the inscription or cut. */
  id?: string;
  name?: string;
  xMm?: number;
  turnDeg?: number;
  /** Line of the program, counted from 1. */
  line?: number;
}

/** One problem or warning. `text` says what is wrong and by how much, `remedy` what to do. */
export interface Finding {
  code: FindingCode;
  severity: Severity;
  where: Where;
  text: string;
  remedy: string;
}

const n = (value: number, digits: number): string => value.toFixed(digits);
/** Letters by name, the first twelve. */
const list = (letters: readonly string[]): string =>
  `${letters
    .slice(0, 12)
    .map((l) => `"${l}"`)
    .join(', ')}${letters.length > 12 ? ` and ${letters.length - 12} more` : ''}`;

/** The wording of every finding, in one place. Each entry: severity, what is wrong, what to do. */
const WORDING = {
  'wider-than-turn': (d: { name: string; overDeg: number }) => [
    'spoils',
    `"${d.name}" needs ${n(360 + d.overDeg, 1)}° and runs ${n(d.overDeg, 1)}° into itself at the seam`,
    'Lower the height or the letter spacing, shorten the wording, or take a larger blank',
  ],
  'overlaps-at-seam': (d: { name: string; other: string; overDeg: number }) => [
    'spoils',
    `"${d.name}" and "${d.other}" overlap by ${n(d.overDeg, 1)}° across the seam`,
    'Move one of them, or make it shorter round the blank',
  ],
  'crosses-seam': (d: { name: string; overDeg: number }) => [
    'notes',
    `"${d.name}" runs ${n(d.overDeg, 1)}° over the seam`,
    'Nothing need be done on a closed blank; turn the lettering to keep it clear of a weld or joint',
  ],
  'off-blank': (d: { name: string; overMm: number; end: string }) => [
    'spoils',
    `"${d.name}" runs ${n(d.overMm, 2)} mm off the ${d.end} of the blank`,
    'Move it on to the blank, lower its height, or correct the sizes',
  ],
  'in-clear-zone': (d: { name: string; overMm: number; end: string }) => [
    'spoils',
    `"${d.name}" runs ${n(d.overMm, 2)} mm into the zone that stays clear at the ${d.end} end`,
    'Move it along the blank, or shorten the zone if the chuck leaves room',
  ],
  'over-edge': (d: { name: string; letters: readonly string[]; xMm: number }) => [
    'warns',
    `"${d.name}" runs over an edge of the blank, ${n(d.xMm, 2)} mm along it, which breaks ${list(d.letters)}`,
    'Move it away from the edge, make it smaller, or join the profile smoothly there',
  ],
  'over-pole': (d: { name: string; letters: readonly string[] }) => [
    'spoils',
    `${list(d.letters)} of "${d.name}" ${d.letters.length > 1 ? 'stand' : 'stands'} on the pole, where a turn moves nothing`,
    'Move it away from the pole, or project it along the axis',
  ],
  'letters-miss': (d: { name: string; letters: readonly string[]; from: 'outside' | 'behind' }) => [
    'spoils',
    d.from === 'behind'
      ? `"${d.name}" does not land on the blank: its place faces away from the direction it is laid from, or lies off the surface`
      : `${list(d.letters)} of "${d.name}" ${d.letters.length > 1 ? 'fall' : 'falls'} off the surface and would not be cut`,
    'Move or shrink the lettering, turn the direction towards it, or choose another lay',
  ],
  'too-steep': (d: { name: string; letters: readonly string[]; mostDeg: number }) => [
    'warns',
    `${list(d.letters)} of "${d.name}" ${d.letters.length > 1 ? 'are' : 'is'} projected at up to ${n(d.mostDeg, 1)}° to the surface and drawn out ${n(1 / Math.cos((Math.min(89.99, d.mostDeg) * Math.PI) / 180), 2)} times`,
    'Project along the normal there, bring the letters nearer the middle, or level them',
  ],
  stretched: (d: { name: string; letters: readonly string[]; percent: number; limit: number }) => [
    'warns',
    `${list(d.letters)} of "${d.name}" ${d.letters.length > 1 ? 'are' : 'is'} stretched by ${d.percent > 0 ? '+' : '−'}${n(Math.abs(d.percent), 1)} % at most (limit ${d.limit} %)`,
    'Lay each letter whole (level), bring the lettering nearer its anchor, or allow more at Lay',
  ],
  'lay-as-drape': (d: { lay: string }) => [
    'notes',
    `a free shape has no rims to ${d.lay} along: the lettering is draped from its anchor`,
    'Choose drape or project at Lay',
  ],
  'shape-missing': (d: { source: string }) => ['spoils', `the shape "${d.source}" is not here`, 'Import its file again at Blank'],
  'patch-missing': (d: { source: string }) => [
    'spoils',
    `nothing of "${d.source}" faces the picked direction`,
    'Click on the place to letter at Blank',
  ],
  'shape-open': (d: { source: string; edges: number; crowded: number }) => [
    'warns',
    `"${d.source}" has ${[d.edges && `${d.edges} open edge${d.edges > 1 ? 's' : ''}`, d.crowded && `${d.crowded} edge${d.crowded > 1 ? 's' : ''} of three faces or more`].filter(Boolean).join(' and ')}: what lies under the lettering is not known everywhere`,
    'Mend the shape where it was drawn, if depth against the wall matters',
  ],
  'shape-size': (d: { source: string; sizeMm: number }) => [
    'warns',
    `"${d.source}" is ${d.sizeMm < 10 ? n(d.sizeMm, 3) : n(d.sizeMm, 0)} mm at its longest, which is ${d.sizeMm < 10 ? 'very small' : 'very large'}`,
    'Check at Blank which unit its file is in',
  ],
  mirrored: (d: { name: string }) => [
    'spoils',
    `"${d.name}" is mirrored: it reads backwards on the piece`,
    'Switch mirroring off, unless this is a stamp',
  ],
  'mirrored-program': (_: object) => [
    'spoils',
    'Read back on this machine, the lettering comes out as a mirror image',
    'Check the sense of rotation of the machine against its rotary: turn it by hand in plus',
  ],
  'glyph-missing': (d: { name: string; glyphs: readonly string[]; font: string }) => [
    'spoils',
    `${d.font} has no ${d.glyphs
      .slice(0, 12)
      .map((g) => `"${g}" (U+${g.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')})`)
      .join(', ')} for "${d.name}"`,
    'Choose a font that has it, or change the wording',
  ],
  'font-missing': (d: { name: string; font: string; why: string }) => [
    'spoils',
    `the font "${d.font}" of "${d.name}" cannot be used: ${d.why}`,
    'Choose another font',
  ],
  'font-changed': (d: { name: string; font: string }) => [
    'warns',
    `${d.font} is not the file that "${d.name}" was set with: its letters may be other ones`,
    'Look at the lettering, and set the font again to take the new file',
  ],
  'glyph-fallback': (d: { name: string; glyphs: readonly string[] }) => [
    'notes',
    `${d.glyphs
      .slice(0, 12)
      .map((g) => `"${g}"`)
      .join(', ')} in "${d.name}" ${d.glyphs.length > 1 ? 'come' : 'comes'} from the second font`,
    'Look whether it matches the others',
  ],
  'unknown-word': (d: { name: string; words: readonly string[] }) => [
    'warns',
    `${d.words.map((w) => `{${w}}`).join(', ')} in "${d.name}" ${d.words.length > 1 ? 'stand' : 'stands'} for nothing in this piece`,
    'Use {serial}, {date} or a column of the table, or check the piece number',
  ],
  'guide-empty': (d: { name: string; guide: string }) => [
    'spoils',
    `the guide "${d.guide}" of "${d.name}" has no length`,
    'Draw the guide anew, or take the lettering off it',
  ],
  'off-guide': (d: { name: string; overMm: number }) => [
    'warns',
    `"${d.name}" runs ${n(d.overMm, 2)} mm past the end of its guide`,
    'Fit it to the guide, lower its height, or make the guide longer',
  ],
  'letters-collide': (d: { name: string; pairs: readonly (readonly [string, string])[] }) => [
    'warns',
    `on its curve, letters of "${d.name}" run into each other: ${d.pairs
      .slice(0, 6)
      .map(([a, b]) => `"${a}${b}"`)
      .join(', ')}`,
    'Give them more letter spacing, put them on the outside of the curve, or take a wider curve',
  ],
  'too-many-marks': (d: { name: string; count: number; limit: number }) => [
    'spoils',
    `"${d.name}" would have ${d.count < 1e9 ? Math.round(d.count) : 'far too many'} marks; up to ${d.limit} can be cut`,
    'Take a larger step or a shorter range',
  ],
  'outside-table': (d: { name: string }) => [
    'warns',
    `"${d.name}" runs over the values of its table; marks outside it are left out`,
    'Extend the table, or shorten the range',
  ],
  'upside-down': (d: { name: string }) => [
    'warns',
    `"${d.name}" reads upside down from the operator's side`,
    'Turn it by 180°, if it is to be read there',
  ],
  'empty-lettering': (d: { name: string }) => ['warns', `"${d.name}" has nothing to cut`, 'Type its wording, or remove it'],
  'not-cut': (d: { name: string; part: string }) => [
    'warns',
    `no cut takes ${d.part}"${d.name}"`,
    'Add a cut for it: a V-carve for outline fonts, a centre-line cut for stroke fonts',
  ],
  'nothing-to-cut': (d: { name: string; kind: string }) => [
    'warns',
    `"${d.name}" finds no lettering: ${d.kind === 'v-carve' ? 'a V-carve needs an outline font' : 'a centre-line cut needs a stroke font'}`,
    'Choose a fitting font, or other lettering for this cut',
  ],
  'outline-crosses': (d: { name: string }) => [
    'spoils',
    `the outlines for "${d.name}" cross themselves and cannot be carved`,
    'Choose another font, or part the inscriptions that overlap',
  ],
  'breaks-through': (d: { name: string; depthMm: number; wallMm: number; what: string }) => [
    'spoils',
    `"${d.name}" goes ${n(d.depthMm, 3)} mm deep and the ${d.what} is ${n(d.wallMm, 3)} mm`,
    'Lower the depth limit, or check the sizes of the blank',
  ],
  'wall-thin': (d: { name: string; depthMm: number; leftMm: number; what: string }) => [
    'warns',
    `"${d.name}" leaves ${n(d.leftMm, 3)} mm of ${d.what} under a depth of ${n(d.depthMm, 3)} mm`,
    'Lower the depth limit if the piece has to bear load',
  ],
  'hop-too-low': (d: { hopMm: number }) => [
    'spoils',
    `the hop height of ${n(d.hopMm, 3)} mm does not clear the surface: the tool would cross the work`,
    'Set a hop height of 1 mm or more',
  ],
  'gap-too-low': (d: { gapMm: number }) => [
    'spoils',
    `the approach gap of ${n(d.gapMm, 3)} mm lets the rapid run into the work`,
    'Set an approach gap above 0, 0.3 mm or more for stock out of round',
  ],
  'heights-crossed': (d: { what: string }) => ['warns', d.what, 'Put park over hop, and hop over the approach gap'],
  'flute-too-short': (d: { name: string; depthMm: number; fluteMm: number; tool: string }) => [
    'spoils',
    `"${d.name}" goes ${n(d.depthMm, 3)} mm deep and ${d.tool} cuts ${n(d.fluteMm, 3)} mm`,
    'Choose a cutter with longer flutes, or lower the depth',
  ],
  'cutter-too-narrow': (d: { name: string; depthMm: number; tool: string; reachMm: number }) => [
    'spoils',
    `at ${n(d.depthMm, 3)} mm deep "${d.name}" is wider than ${d.tool}, whose cone ends ${n(d.reachMm, 3)} mm over its tip`,
    'Choose a wider cutter, or lower the depth limit',
  ],
  'tool-leans': (d: { name: string; deg: number; tilts: boolean }) => [
    'notes',
    `the tool of "${d.name}" leans by up to ${n(d.deg, 1)}° against the surface, and its grooves with it; depths are measured along the tool`,
    d.tilts
      ? 'The head reaches no farther: set its limits at Machines, or move the lettering'
      : 'Nothing need be done; a head that tilts, or a wedge under the rotary, would bring it upright',
  ],
  'leans-too-far': (d: { name: string; pieces: number }) => [
    'spoils',
    `"${d.name}" leaves out ${d.pieces} piece${d.pieces > 1 ? 's' : ''}: the tool leans so far that its flank all but lies on the surface`,
    'Take a finer included angle, tilt the head, or move the lettering to where the blank is less steep',
  ],
  'cutter-too-big': (d: { name: string; tool: string; radiusMm: number; needsMm: number; depthMm: number }) => [
    'spoils',
    `in the hollow of ${n(d.radiusMm, 2)} mm radius ${d.tool} does not fit for "${d.name}": at ${n(d.depthMm, 3)} mm deep it needs a radius of ${n(d.needsMm, 2)} mm`,
    'Take a cutter of smaller diameter or finer angle, or letter less deep',
  ],
  'wrong-cutter': (d: { name: string; tool: string }) => ['spoils', `${d.tool} is no V cutter: "${d.name}" needs one`, 'Choose a V cutter'],
  'turns-too-fast': (d: { name: string; degPerMin: number; limit: number; feed: number }) => [
    'warns',
    `"${d.name}" asks the rotary for ${n(d.degPerMin, 0)}°/min and it does ${n(d.limit, 0)}°/min: those moves run slower`,
    `Lower the feed to ${n(d.feed, 0)} mm/min to keep it even`,
  ],
  'feed-too-fast': (d: { name: string; feed: number; limit: number }) => [
    'warns',
    `"${d.name}" asks for ${n(d.feed, 0)} mm/min and the machine feeds ${n(d.limit, 0)} mm/min`,
    'Lower the feed',
  ],
  'spindle-too-fast': (d: { name: string; rpm: number; limit: number }) => [
    'warns',
    `"${d.name}" asks for ${n(d.rpm, 0)} rev/min and the spindle does ${n(d.limit, 0)}`,
    'Lower the speed, and the feed with it',
  ],
  deviation: (d: { um: number; limitUm: number }) => [
    'spoils',
    `the program, read back, leaves the plan by ${n(d.um, 2)} µm (limit ${n(d.limitUm, 2)} µm)`,
    'Give the machine more digits, or a smaller chord tolerance',
  ],
  'edge-outside': (d: { um: number }) => [
    'spoils',
    `the cut would run ${n(d.um, 0)} µm outside the lettering`,
    'Move the lettering to where the blank is less steep, tilt the head, or take a finer included angle',
  ],
  'edge-left': (d: { um: number }) => [
    'warns',
    `up to ${n(d.um, 0)} µm along the outline is left uncut, where the tip does not fit`,
    'Look at the place; take a cutter with a smaller tip, or part letters that run together',
  ],
  'program-fault': (d: { what: string }) => ['spoils', `the program does not read back: ${d.what}`, 'Report this: it is a defect of Hobel'],
  'rapid-in-work': (_: object) => ['spoils', 'a rapid passes below the surface of the blank', 'Raise the hop height and the approach gap'],
  'tool-by-hand': (d: { count: number }) => [
    'notes',
    `${d.count} cutters on a machine without a changer: the program stops (M0) for each change`,
    'Have the cutters measured, and Z set again after each change',
  ],
  'flat-floor': (d: { name: string; deepMm: number; limitMm: number }) => [
    'notes',
    `"${d.name}" would need ${n(d.deepMm, 3)} mm; limited to ${n(d.limitMm, 3)} mm its wide strokes get a flat floor`,
    'Raise the depth limit for a full V',
  ],
} satisfies Record<string, (d: never) => string[]>;

export type FindingCode = keyof typeof WORDING;
export const FINDING_CODES = Object.keys(WORDING) as FindingCode[];

/** Makes a finding from its code, its place and its figures. */
export function makeFinding<C extends FindingCode>(code: C, where: Where, data: Parameters<(typeof WORDING)[C]>[0]): Finding {
  const [severity, text, remedy] = (WORDING[code] as (d: unknown) => string[])(data);
  return { code, severity: severity as Severity, where, text: text![0]!.toUpperCase() + text!.slice(1), remedy: remedy! };
}

export const hasSpoiling = (findings: readonly Finding[]): boolean => findings.some((f) => f.severity === 'spoils');
