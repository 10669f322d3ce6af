import { n } from './words';

/** The blank itself. Each entry: severity, what is wrong, what to do. */
export const blankWording = {
  'lay-as-drape': (d: { lay: string }) => [
    'notes',
    `a free shape has no rims to ${d.lay} along: the lettering is draped from its anchor`,
    'Choose drape or project at Lay',
  ],
  'measured-other': (_: object) => [
    'spoils',
    'the blank was measured before it was changed, and the passes do not follow what was measured',
    'Measure it again at Blank, or let the passes follow the drawn blank',
  ],
  'measured-short': (d: { name: string; mm: number }) => [
    'warns',
    `"${d.name}" goes ${n(d.mm, 1)} mm past where the blank was measured; there it is taken to be as at the last place`,
    'Measure it again at Blank, under the lettering as it is now',
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
};
