import { n } from './words';

/** For what Hobel's own writer never does, and a program from elsewhere may. */
const DO_NOT_RUN = 'Do not run this program; if Hobel wrote it, report it as a defect';

const OWN_BLOCKS = { start: 'start block', change: 'block for a change of cutter', end: 'end block' };

/** A place at which the piece is not what was meant: the worst of so many. */
interface JudgedPlace {
  name: string;
  letter: string;
  depthMm: number;
  wantedMm: number;
  areaMm2: number;
  places: number;
}
const whereOf = ({ name, letter }: JudgedPlace): string => ` in "${name}"${letter ? ` at "${letter}"` : ''}`;
const extentOf = ({ areaMm2, places }: JudgedPlace): string =>
  `, over ${n(areaMm2, areaMm2 < 1 ? 3 : 1)} mm²${places > 1 ? ` in ${places} places` : ''}`;

/** The program as it is read back, and the edge that it cuts. Each entry: severity, what is wrong, what to do. */
export const programWording = {
  'mirrored-program': (_: object) => [
    'spoils',
    'Read back on this machine, the lettering comes out as a mirror image',
    'Check the sense of rotation of the machine against its rotary: turn it by hand in plus',
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
  'left-out': (d: { name: string; cut: string; letters: readonly { char: string; share: number }[]; percent: number; whole: boolean }) => [
    d.whole ? 'spoils' : 'warns',
    d.whole
      ? `nothing of "${d.name}" is cut as it is drawn: the tip of "${d.cut}" does not fit into it`
      : `of "${d.name}" ${n(d.percent, 0)} % is cut as it is drawn; not so ${d.letters
          .slice(0, 12)
          .map(({ char, share }) => `${char ? `"${char}"` : 'one part'} (${share <= 0 ? 'not at all' : `${n(100 * share, 0)} %`})`)
          .join(', ')}${d.letters.length > 12 ? ` and ${d.letters.length - 12} more` : ''}, where the tip of "${d.cut}" does not fit`,
    'Take a cutter with a smaller tip for it, make it larger, or leave it to another cut',
  ],
  'cuts-nothing': (_: object) => [
    'spoils',
    'the program cuts nothing at all',
    'See what the other findings say of the cuts and the lettering',
  ],
  'dialect-cannot': (d: { dialect: string; what: readonly string[]; others: readonly string[] }) => [
    'spoils',
    `${d.dialect} has no words for ${d.what.join(', nor for ')}`,
    d.others.length > 0
      ? `Choose ${d.others.join(' or ')} for the machine, if its control reads it; or do without`
      : 'No dialect has words for all of it: do without',
  ],
  'needs-rotary': (d: { machine: string }) => [
    'spoils',
    `"${d.machine}" has no rotary, and this blank is lettered as it turns`,
    'Choose a machine with a rotary, or, for a part of the way round, an arched plate that lies on the table',
  ],
  'own-block': (d: { block: 'start' | 'change' | 'end'; line: number; word: string; why: string }) => [
    'spoils',
    `line ${d.line} of the machine's own ${OWN_BLOCKS[d.block]} has "${d.word}": ${d.why}`,
    'Change that block on the Machines page and choose the machine again at Blank, or leave it to Hobel',
  ],
  'file-too-long': (d: { lines: number; limit: number }) => [
    'spoils',
    `a file of the program has ${d.lines} lines, and the machine takes ${d.limit}: one stroke alone is as long`,
    'Merge blocks within more, on the Machines page, or engrave the lettering in parts',
  ],
  'line-too-long': (d: { line: number; lines: number; characters: number; limit: number }) => [
    'spoils',
    `${d.lines > 1 ? `${d.lines} lines of the program, line ${d.line} the first, have up to` : `line ${d.line} of the program has`} ${d.characters} characters, and the machine takes ${d.limit}`,
    'Have fewer digits after the point, or longer lines if it takes them, on the Machines page',
  ],
  'travel-short': (d: { letter: string; from: number; to: number; travelMm: number }) => [
    'spoils',
    `${d.letter} goes from ${n(d.from, 1)} to ${n(d.to, 1)} mm, ${n(d.to - d.from, 1)} mm in all, and the machine's travel is ${n(d.travelMm, 1)} mm`,
    d.letter === 'Z'
      ? 'Lower the park height, or take a machine that goes higher'
      : 'Take a machine with more travel, or lay the lettering closer together',
  ],
  'travel-left': (d: { letter: string; to: number; limit: number; unit: string }) => [
    'spoils',
    `${d.letter} goes to ${n(d.to, 1)} ${d.unit}, and it can go to ${n(d.limit, 1)} ${d.unit}: ${n(Math.abs(d.to - d.limit), 1)} ${d.unit} too far`,
    d.unit === '°'
      ? 'No position of the axis reaches all of that stroke: part the lettering there, or take a machine that turns farther'
      : 'Put the zero elsewhere, lay the lettering closer to the axis, or say at Machines where it stands in the travel',
  ],
  'nose-too-low': (d: { mm: number; tool: string }) => [
    'spoils',
    `at its highest the spindle's nose would have to be ${n(d.mm, 1)} mm over the top of the machine, with ${d.tool} in it`,
    'Lower the park height, or take a shorter cutter',
  ],
  'centre-missing': (d: { needed: boolean }) => [
    d.needed ? 'spoils' : 'warns',
    d.needed
      ? 'nobody has said where the axes of the table meet, and every word depends on it'
      : 'nobody has said where the axes of the table meet: limits, times and collisions are not known',
    'Type it at Blank, Zero: the control has it as the offset of its table',
  ],
  'in-table': (d: { mm: number }) => [
    'spoils',
    `the blank would begin ${n(d.mm, 2)} mm inside the table`,
    'Check at Blank where the axes of the table meet, and at Machines how high its face lies over its axis',
  ],
  'program-fault': (d: { what: string; hasOwn: boolean }) => [
    'spoils',
    `the program does not read back: ${d.what}`,
    d.hasOwn
      ? 'Look at the machine’s own blocks; if the line is none of theirs, report this: it is a defect of Hobel'
      : 'Report this: it is a defect of Hobel',
  ],
  'rapid-in-work': (_: object) => [
    'spoils',
    'a rapid passes through the blank, straight or with each axis at its own speed',
    'Raise the hop height and the approach gap',
  ],
  'rapid-cuts': (d: { mm: number; count: number }) => [
    'spoils',
    `a rapid takes material away, ${n(d.mm, 3)} mm deep${d.count > 1 ? `; ${d.count} rapids do` : ''}`,
    'Raise the hop height or the park height; in a program from elsewhere, lift the tool before this line',
  ],
  'cuts-still': (d: { count: number }) => [
    'spoils',
    `the cutter is fed into the material with the spindle standing still${d.count > 1 ? `, in ${d.count} blocks` : ''}`,
    'Start the spindle before the first feed',
  ],
  'cuts-without-tool': (d: { count: number }) => [
    'spoils',
    `the program cuts${d.count > 1 ? ` in ${d.count} blocks` : ''} with a tool that the job does not have`,
    'Add the cutter to the job under the number that the program calls',
  ],
  'cuts-through': (d: { mm: number; wall: string }) => [
    'spoils',
    `the cut goes ${n(d.mm, 3)} mm deeper than the ${d.wall} there`,
    'Limit the depth, or take a thicker blank',
  ],
  'cuts-clear-end': (d: { mm: number }) => [
    'spoils',
    `material is taken up to ${n(d.mm, 2)} mm into an end that has to stay clear for the chuck or the tailstock`,
    'Move the lettering, or make the clear zone smaller',
  ],
  'shank-in-groove': (d: { tool: string; mm: number }) => [
    'spoils',
    `${d.tool} is ${n(d.mm, 2)} mm deeper in the blank than its flutes are long`,
    'Take a cutter with longer flutes, or cut less deep',
  ],
  'body-hits': (d: { what: 'shank' | 'holder'; tool: string; mm: number }) => [
    'spoils',
    `the ${d.what} of ${d.tool} comes ${n(d.mm, 2)} mm into the blank`,
    d.what === 'holder'
      ? 'Let the cutter stick out farther, or take a slimmer holder'
      : 'Take a cutter with longer flutes or a thinner shank',
  ],
  'chuck-hits': (d: { what: string; meets: 'chuck' | 'tailstock' | 'table' | 'clamps'; tool: string; mm: number }) => [
    'spoils',
    `the ${d.what} of ${d.tool} comes ${n(d.mm, 2)} mm into the ${d.meets}`,
    `Move the lettering away from the ${d.meets}, cross higher, or let the cutter stick out farther`,
  ],
  'too-deep': (d: JudgedPlace) => [
    'spoils',
    d.wantedMm > 0
      ? `the piece is cut ${n(d.depthMm - d.wantedMm, 3)} mm too deep${whereOf(d)}: ${n(d.depthMm, 3)} mm where at most ${n(d.wantedMm, 3)} may go${extentOf(d)}`
      : `the piece is cut ${n(d.depthMm, 3)} mm deep${whereOf(d)} where nothing may go${extentOf(d)}`,
    'Go there on the sheet; this program does not cut what the job means: mend the cut that comes there, or what lies beside it',
  ],
  'left-standing': (d: JudgedPlace) => [
    'spoils',
    `the piece is ${n(d.wantedMm - d.depthMm, 3)} mm short${whereOf(d)}: ${d.depthMm > 0 ? `${n(d.depthMm, 3)} mm deep` : 'not cut'} where at least ${n(d.wantedMm, 3)} mm must go${extentOf(d)}`,
    'Go there on the sheet; this program does not cut what the job means: look whether a cutter, a pass or a line of it is missing',
  ],
  'stands-cut': (d: JudgedPlace) => [
    'spoils',
    `what "${d.name}" leaves standing is cut ${n(d.depthMm, 3)} mm deep${d.letter ? ` at "${d.letter}"` : ''}${extentOf(d)}`,
    'Take that cut away, or let it take other lettering',
  ],
  'tabs-missing': (d: { name: string; found: number; wanted: number }) => [
    'spoils',
    `of ${d.wanted} tab${d.wanted > 1 ? 's' : ''} that "${d.name}" asks for ${d.found} stand${d.found === 1 ? 's' : ''}: the piece comes loose`,
    'Check the depth of the cut and the thickness of its tabs',
  ],
  'part-loose': (d: { areaMm2: number; parts: number }) => [
    'spoils',
    `${d.parts > 1 ? `${d.parts} parts come` : 'a part comes'} loose, ${n(d.areaMm2, 1)} mm² in all: what held ${d.parts > 1 ? 'them' : 'it'} is cut through`,
    'Leave tabs there, or cut less deep',
  ],
  'letters-missing': (d: { name: string; letters: readonly string[] }) => [
    'spoils',
    `nothing comes of ${d.letters.length > 1 ? `${d.letters.length} letters` : 'one letter'} that "${d.name}" is to cut: ${d.letters
      .slice(0, 8)
      .map((c) => `"${c}"`)
      .join(', ')}${d.letters.length > 8 ? ' and more' : ''}`,
    'Take a narrower cutter for them, larger letters, or give them to another cut',
  ],
  'left-inside': (d: { percent: number }) => [
    'warns',
    `${n(d.percent, 0)} % of the area inside the outlines is not cut`,
    'See where in colour on the sheet; cut deeper, or take a cutter with a smaller tip',
  ],
  'asks-too-fast': (d: { letter: string; perMin: number; mostPerMin: number; unit: string; count: number }) => [
    'warns',
    `${d.letter} is asked to move at ${n(d.perMin, 0)} ${d.unit}/min, ${n(d.mostPerMin, 0)} at most${d.count > 1 ? `, in ${d.count} blocks` : ''}`,
    'Lower the feed there: a control slows down or stops with a fault',
  ],
  'winds-up': (d: { turns: number }) => [
    'notes',
    `the program leaves the rotary ${n(d.turns, 1)} turns from where it began`,
    'Unwind it, or set it to zero again, before the next piece',
  ],
  'dives-fast': (d: { mmPerMin: number; wantedMmPerMin: number; count: number }) => [
    'warns',
    `the cutter sinks into full material at ${n(d.mmPerMin, 0)} mm/min, ${n(d.wantedMmPerMin, 0)} asked for plunging${d.count > 1 ? `, in ${d.count} blocks` : ''}`,
    'Lower the feed there, or enter on a ramp',
  ],
  'too-much-at-once': (d: { mm: number; wantedMm: number; count: number }) => [
    'warns',
    `up to ${n(d.mm, 3)} mm are taken at once, ${n(d.wantedMm, 3)} mm is the step of its cut${d.count > 1 ? `; in ${d.count} blocks` : ''}`,
    'Cut in more levels',
  ],
  'cuts-air': (d: { percent: number; seconds: number }) => [
    'notes',
    `${n(d.percent, 0)} % of the time at feed below the surface, ${n(d.seconds, 0)} s, takes nothing away`,
    'See on the ladder where; fewer levels or another order may do',
  ],
  'tool-by-hand': (d: { count: number; parts: boolean; lengths: boolean }) => [
    'notes',
    `${d.count} cutters on a machine without a changer: ${d.parts ? 'each change begins a file of its own' : 'the program stops (M0) for each change'}`,
    d.lengths
      ? 'Have the cutters measured, and their lengths in the control’s table: each is called after its change (G43 H)'
      : 'Have the cutters measured, and Z set again after each change',
  ],
  'wrong-tool': (d: { name: string; needs: string; found: string }) => [
    'spoils',
    `"${d.name}" would be cut with ${d.found}, and needs ${d.needs}`,
    DO_NOT_RUN,
  ],
  'wrong-length': (d: { name: string; needs: number; found: number }) => [
    'spoils',
    `"${d.name}" would be cut ${d.found === 0 ? 'without a length called for its cutter' : `with the length of tool ${d.found}`}; its cutter is tool ${d.needs}`,
    DO_NOT_RUN,
  ],
  'spindle-wrong': (d: { name: string; rpm: number; wantedRpm: number }) => [
    'spoils',
    `"${d.name}" would be cut with the spindle ${d.rpm === 0 ? 'standing still' : d.rpm < 0 ? `turning backwards at ${n(-d.rpm, 0)} rev/min` : `at ${n(d.rpm, 0)} rev/min`}, and needs ${n(d.wantedRpm, 0)}`,
    DO_NOT_RUN,
  ],
  'change-unsafe': (d: { what: string }) => ['spoils', `a cutter would be changed ${d.what}`, DO_NOT_RUN],
  'too-low': (d: { heightMm: number; wantedMm: number; what: string }) => [
    'spoils',
    `${d.what} the tool stays ${n(d.heightMm, 3)} mm over ${d.what === 'between strokes' ? 'the surface' : 'the highest place of the blank'}, and ${n(d.wantedMm, 3)} mm were asked for`,
    DO_NOT_RUN,
  ],
  'corners-wrong': (d: { foundMm: number; wantedMm: number }) => [
    'spoils',
    `the program lets the control round corners ${d.foundMm === Infinity ? 'by as much as it likes' : `by ${n(d.foundMm, 4)} mm`}, and ${n(d.wantedMm, 4)} mm were asked for`,
    DO_NOT_RUN,
  ],
  'end-unsafe': (d: { what: string }) => ['spoils', `the program ends ${d.what}`, DO_NOT_RUN],
};
