// Converts the single-line SVG fonts of the npm package "hersheytext" into resources/stroke-fonts/*.json.
// Run by hand when a font is added; the results are committed with their credits.
import { readFileSync, writeFileSync } from 'node:fs';
import svgpath from 'svgpath';

const HERSHEY =
  'The Hershey Fonts were originally created by Dr. A. V. Hershey while working at the U. S. National Bureau of Standards. ' +
  'The format of the font data in this distribution was originally created by James Hurt, Cognition, Inc., ' +
  '900 Technology Park Drive, Billerica, MA 01821.';
const OFL = (name, designer) => `${name} by Sheldon B. Michaels, after a typeface by ${designer}. SIL Open Font License 1.1.`;
const fonts = [
  ['hershey-sans', 'HersheySans1', 'Hershey Sans', HERSHEY],
  ['hershey-script', 'HersheyScript1', 'Hershey Script', HERSHEY],
  ['ems-readability', 'EMSReadability', 'EMS Readability', OFL('EMS Readability', 'Paul D. Hunt')],
  ['ems-tech', 'EMSTech', 'EMS Tech', OFL('EMS Tech', 'Kimberly Geswein')],
];
const round = (v) => Math.round(v * 100) / 100;
const decode = (s) =>
  s
    .replace(/&#x([0-9a-f]+);/gi, (_, h) => String.fromCodePoint(parseInt(h, 16)))
    .replace(/&#(\d+);/g, (_, d) => String.fromCodePoint(Number(d)))
    .replace(/&lt;/g, '<')
    .replace(/&gt;/g, '>')
    .replace(/&quot;/g, '"')
    .replace(/&apos;/g, "'")
    .replace(/&amp;/g, '&');
const CURVE_STEPS = 16;

for (const [id, file, family, credit] of fonts) {
  const svg = readFileSync(new URL(`../node_modules/hersheytext/svg_fonts/${file}.svg`, import.meta.url), 'utf8');
  const attribute = (tag, name) => new RegExp(`\\s${name}="([^"]*)"`).exec(tag)?.[1];
  const defaultAdvance = Number(attribute(/<font\s[^>]*>/.exec(svg)[0], 'horiz-adv-x'));
  const unitsPerEm = Number(attribute(/<font-face[\s\S]*?\/>/.exec(svg)[0], 'units-per-em'));
  const glyphs = [];
  for (const [tag] of svg.matchAll(/<glyph\s[^>]*>/g)) {
    const char = decode(attribute(tag, 'unicode') ?? '');
    if ([...char].length !== 1) continue;
    const strokes = [];
    let stroke = [];
    svgpath(attribute(tag, 'd') ?? '')
      .abs()
      .unshort()
      .iterate(([type, ...v], _i, x, y) => {
        if (type === 'M') {
          if (stroke.length > 2) strokes.push(stroke);
          stroke = [round(v[0]), round(v[1])];
        } else if (type === 'L') stroke.push(round(v[0]), round(v[1]));
        else if (type === 'C') {
          for (let k = 1; k <= CURVE_STEPS; k++) {
            const t = k / CURVE_STEPS;
            const s = 1 - t;
            const at = (a, b, c, d) => round(s * s * s * a + 3 * s * s * t * b + 3 * s * t * t * c + t * t * t * d);
            stroke.push(at(x, v[0], v[2], v[4]), at(y, v[1], v[3], v[5]));
          }
        } else throw new Error(`${file}: command ${type} in glyph ${char}`);
      });
    if (stroke.length > 2) strokes.push(stroke);
    glyphs.push({ char, advance: Number(attribute(tag, 'horiz-adv-x') ?? defaultAdvance), strokes });
  }
  const capital = glyphs
    .find((g) => g.char === 'H')
    .strokes.flat()
    .filter((_, i) => i % 2 === 1);
  const data = {
    format: 'hobel-stroke-font',
    version: 1,
    family,
    credit,
    unitsPerEm,
    capHeight: Math.max(...capital),
    glyphs,
  };
  writeFileSync(new URL(`../resources/stroke-fonts/${id}.json`, import.meta.url), `${JSON.stringify(data)}\n`);
  console.log(id, glyphs.length, 'glyphs, capitals', data.capHeight, 'of', unitsPerEm, 'lowest of H', Math.min(...capital));
}
