import { list, n } from './words';

/** Lettering and how it lies on the blank. Each entry: severity, what is wrong, what to do. */
export const letteringWording = {
  'wider-than-turn': (d: { name: string; overDeg: number }) => [
    'spoils',
    `"${d.name}" needs ${n(360 + d.overDeg, 1)}° and runs ${n(d.overDeg, 1)}° into itself at the seam`,
    'Lower the height or the letter spacing, shorten the wording, or take a larger blank',
  ],
  'overlaps-at-seam': (d: { name: string; other: string; overDeg: number }) => [
    'spoils',
    `"${d.name}" and "${d.other}" overlap by ${n(d.overDeg, 1)}° round the blank, across the seam or a turn apart`,
    'Move one of them, or make it shorter round the blank',
  ],
  overlaps: (d: { name: string; other: string; overDeg: number; round: boolean }) => [
    'warns',
    `"${d.name}" and "${d.other}" lie on each other, over ${n(d.overDeg, 1)}${d.round ? '°' : ' mm across'}`,
    'Move one of them, unless they are meant to be one drawing',
  ],
  'parts-overlap': (d: { name: string; pairs: number; first: readonly [string, string] }) => [
    'warns',
    `parts of "${d.name}" lie on each other: "${d.first[0]}" and "${d.first[1]}"${d.pairs > 1 ? `, and ${d.pairs - 1} more pair${d.pairs > 2 ? 's' : ''}` : ''}`,
    'Widen the pitch of its repeats or labels, or make the letters smaller',
  ],
  'fit-missed': (d: { name: string; wantedMm: number; gotMm: number; tight: boolean }) => [
    'warns',
    d.tight
      ? `to come to ${n(d.wantedMm, 2)} mm the letters of "${d.name}" would lie on each other`
      : d.wantedMm <= 0
        ? `"${d.name}" is to fit into nothing: the gap is as long as its line`
        : `"${d.name}" is to come to ${n(d.wantedMm, 2)} mm and comes to ${n(d.gotMm, 2)}: one letter has nothing to be spaced from`,
    'Fit it by its size, or ask for another length or gap',
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
  mirrored: (d: { name: string; wanted: boolean }) => [
    'spoils',
    `"${d.name}" is mirrored: it reads backwards on the piece`,
    d.wanted ? 'Switch mirroring off, unless this is a stamp' : 'Turn its guides or its lay round: nothing in its settings asks for it',
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
  'marks-double': (d: { name: string; count: number }) => [
    'warns',
    `"${d.name}" comes round on itself: ${d.count} of its marks would fall on others and ${d.count > 1 ? 'are' : 'is'} left out`,
    'Shorten the span to less than a turn, or take fewer steps',
  ],
  'labels-short': (d: { name: string; count: number }) => [
    'warns',
    `the list of labels of "${d.name}" ends ${d.count} short: the last ${d.count > 1 ? `${d.count} marks stay` : 'mark stays'} without`,
    'Add the missing labels to the list, or label fewer marks',
  ],
  'upside-down': (d: { name: string }) => [
    'warns',
    `"${d.name}" reads upside down from the operator's side`,
    'Turn it by 180°, if it is to be read there',
  ],
  'empty-lettering': (d: { name: string }) => ['warns', `"${d.name}" has nothing to cut`, 'Type its wording, or remove it'],
};
