import { list, n } from './words';

/** Cuts: cutters, depths, speeds and heights. Each entry: severity, what is wrong, what to do. */
export const cutsWording = {
  'not-cut': (d: { name: string; part: string; ways: readonly string[] }) => [
    'warns',
    `no cut takes ${d.part}"${d.name}"`,
    `Add a cut for it: ${d.ways.join(' or ')}`,
  ],
  'nothing-to-cut': (d: { name: string; kindName: string; needs: string }) => [
    'warns',
    `"${d.name}" finds no lettering: ${d.kindName} needs ${d.needs}`,
    'Choose a fitting font, or other lettering for this cut',
  ],
  'nothing-left': (d: { name: string; tool: string }) => [
    'notes',
    `${d.tool} has nothing to do in "${d.name}": the cutters before it reach all that it would`,
    'Nothing need be done; leave it out to save a change of cutter',
  ],
  'tip-too-wide': (d: { name: string; tool: string; letterings: readonly string[] }) => [
    'spoils',
    `the tip of ${d.tool} enters nothing of ${d.letterings.map((l) => `"${l}"`).join(', ')}: "${d.name}" cuts nothing`,
    'Take a cutter with a smaller tip, or make the lettering larger',
  ],
  'cutter-too-wide': (d: { name: string; tool: string; widestMm: number }) => [
    'spoils',
    `${d.tool} fits nowhere into what "${d.name}" is to clear: the widest that fits is ${n(d.widestMm, 2)} mm`,
    'Take a narrower end mill, or larger lettering',
  ],
  'not-reached': (d: { name: string; mm2: number; percent: number }) => [
    d.percent > 5 ? 'warns' : 'notes',
    `"${d.name}" does not reach ${n(d.mm2, 2)} mm² (${n(d.percent, 1)} %): corners and strokes narrower than its last cutter`,
    'Add a narrower cutter after it, or round the corners',
  ],
  'field-too-small': (d: { name: string }) => [
    'spoils',
    `the field of "${d.name}" is smaller than the words that are to stand in it`,
    'Give it a wider margin',
  ],
  'tab-too-long': (d: { name: string; aroundMm: number }) => [
    'spoils',
    `the tabs of "${d.name}" are longer together than the way round, ${n(d.aroundMm, 1)} mm: it would cut nothing free`,
    'Make them shorter or fewer',
  ],
  'tab-too-thick': (d: { name: string; depthMm: number }) => [
    'warns',
    `the tabs of "${d.name}" are as thick as it is deep, ${n(d.depthMm, 2)} mm`,
    'Make them thinner, or the cut deeper',
  ],
  'not-through': (d: { name: string; depthMm: number; wallMm: number }) => [
    'warns',
    `"${d.name}" goes ${n(d.depthMm, 3)} mm deep and the blank is ${n(d.wallMm, 3)} mm thick there: the piece stays in it`,
    'Cut a little deeper than the blank is thick',
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
      ? 'The machine tilts no farther: set its limits at Machines and at Blank, or move the lettering'
      : 'Nothing need be done; a head that tilts, or a wedge under the rotary, would bring it upright',
  ],
  'floor-leans': (d: { name: string; deg: number; tool: string; mm: number; depthMm: number; letters: readonly string[] }) => [
    'warns',
    `the flat end of ${d.tool} leans by up to ${n(d.deg, 1)}° in "${d.name}": its floor lies between ${n(Math.max(0, d.depthMm - d.mm), 3)} and ${n(d.depthMm + d.mm, 3)} mm deep where ${n(d.depthMm, 3)} is asked for${d.letters.length > 0 ? `, in ${list(d.letters)}` : ''}`,
    'Take a narrower or a ball-ended cutter, a head that tilts, or move it to where the blank is less steep',
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
  'wrong-cutter': (d: { name: string; tool: string; needs: string }) => [
    'spoils',
    `${d.tool} cannot be used for "${d.name}", which needs ${d.needs}`,
    `Choose ${d.needs}`,
  ],
  'turns-too-fast': (d: { name: string; letter: string; degPerMin: number; limit: number; feed: number }) => [
    'warns',
    `"${d.name}" asks ${d.letter} for ${n(d.degPerMin, 0)}°/min and it does ${n(d.limit, 0)}°/min: those moves run slower`,
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
  'flat-floor': (d: { name: string; deepMm: number; limitMm: number }) => [
    'notes',
    `"${d.name}" would need ${n(d.deepMm, 3)} mm; limited to ${n(d.limitMm, 3)} mm its wide strokes get a flat floor`,
    'Raise the depth limit for a full V, or let an end mill go before it',
  ],
  'slow-floor': (d: { name: string; minutes: number; tool: string }) => [
    'warns',
    `"${d.name}" takes ${n(d.minutes, 1)} min, most of it to clear flat floors with the tip of ${d.tool}`,
    'Let an end mill go before it, or go deeper with a wider V: Suggest, at Cuts, plans such ways',
  ],
  'cut-after-free': (d: { name: string; other: string }) => [
    'warns',
    `"${d.name}" comes after "${d.other}", which cuts the piece free: by then tabs alone hold it, or nothing`,
    'Move what cuts the piece free to the end of the cuts',
  ],
  'tool-number-twice': (d: { number: number; tools: readonly string[] }) => [
    'spoils',
    `${d.tools.join(' and ')} have the same number, T${d.number}: the machine cannot tell them apart`,
    'Give one of them another number in the crib, and choose it again for its cut',
  ],
  'cut-twice': (d: { name: string; cuts: readonly string[] }) => [
    'warns',
    `"${d.name}" is cut ${d.cuts.length} times, by ${d.cuts.map((c) => `"${c}"`).join(' and ')}`,
    'Leave it to one of them, unless it is meant to be cut again',
  ],
  'feed-not-reached': (d: { name: string; feed: number; mean: number }) => [
    'notes',
    `"${d.name}" asks for ${n(d.feed, 0)} mm/min and runs at ${n(d.mean, 0)} on average: its short moves and corners keep the machine from more`,
    'Nothing need be done; a lower feed cuts more evenly in about the same time',
  ],
  'plunge-too-fast': (d: { name: string; feed: number; limit: number }) => [
    'warns',
    `"${d.name}" asks for a plunge of ${n(d.feed, 0)} mm/min and the machine feeds ${n(d.limit, 0)} mm/min`,
    'Lower the plunge feed',
  ],
  'blocks-too-fast': (d: { perS: number; limit: number; mergeMm: number }) => [
    'warns',
    `up to ${n(d.perS, 0)} blocks a second are asked for, and the control takes ${n(d.limit, 0)}: it falters there`,
    d.mergeMm < 0.002 ? 'Let more blocks be merged, at Machines, or lower the feed' : 'Lower the feed',
  ],
  'floor-missing': (d: { name: string; sunkMm: number; why: string }) => [
    'spoils',
    `"${d.name}" is to be carved in a floor ${n(d.sunkMm, 3)} mm deep, and ${d.why}: it would cut beyond its outlines`,
    'Give a pocket or a raised cut before it that depth under all of its letters, or carve it from the depth that is there',
  ],
  'slope-past-field': (d: { name: string; wideMm: number; depthMm: number }) => [
    'spoils',
    `the cutter of "${d.name}" reaches ${n(d.wideMm, 2)} mm out from the letters at ${n(d.depthMm, 3)} mm deep, past the edge of its field`,
    `Set a margin of ${n(Math.ceil(d.wideMm * 100 + 1) / 100, 2)} mm or more, take a finer angle, or cut less deep`,
  ],
  'field-not-cleared': (d: { name: string; wideMm: number; depthMm: number; leftMm2: number }) => [
    'spoils',
    `nothing clears ${n(d.leftMm2, 1)} mm² of the field of "${d.name}": its cutter makes the slopes alone, ${n(d.wideMm, 2)} mm out from the letters`,
    'Add an end mill before it, or narrow the margin',
  ],
  'stands-in-cut': (d: { name: string; stands: string; areaMm2: number }) => [
    'spoils',
    `"${d.name}" takes ${n(d.areaMm2, 2)} mm² that "${d.stands}" leaves standing`,
    'Choose other lettering for one of them: what stands cannot be cut as well',
  ],
  'shapes-in-shapes': (d: { name: string; inner: string; outer: string; stands: boolean }) => [
    'warns',
    d.stands
      ? `"${d.inner}" lies in "${d.outer}", and "${d.name}" takes both: it stands there`
      : `"${d.inner}" lies in "${d.outer}", and "${d.name}" cuts them as one: nothing of it is seen`,
    d.stands
      ? 'If it is to be cut as well, choose “as one” in the cut, or give it a cut of its own'
      : 'If it is to stand, choose “standing” in the cut; if it is to be seen otherwise, give it a cut of its own',
  ],
  'begins-too-deep': (d: { name: string; beginMm: number; depthMm: number }) => [
    'spoils',
    `"${d.name}" begins at ${n(d.beginMm, 3)} mm, and is ${n(d.depthMm, 3)} mm deep: it cuts nothing`,
    'Begin it above its depth',
  ],
  'too-many-levels': (d: { name: string; count: number; most: number }) => [
    'spoils',
    `"${d.name}" goes down in ${d.count} levels, and up to ${d.most} are planned: it cuts nothing`,
    'Take larger steps',
  ],
  'axis-too-fast': (d: { name: string; letter: string; mmPerMin: number; limit: number; feed: number }) => [
    'warns',
    `"${d.name}" asks ${d.letter} for ${n(d.mmPerMin, 0)} mm/min and it does ${n(d.limit, 0)} mm/min: those moves run slower`,
    `Lower the feed to ${n(d.feed, 0)} mm/min to keep it even`,
  ],
};
