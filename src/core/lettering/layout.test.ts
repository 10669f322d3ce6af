import { describe, expect, it } from 'vitest';
import { createInscription } from '../job/defaults';
import { computeLayout, PLAIN_LAYOUT } from './layout';
import { createStrokeTypeface, type StrokeFontData } from './strokeTypeface';
import { readSvgFont } from './svgFont';

/** A font of squares: every letter is 10 wide and 10 tall, a space 5 wide. */
const data: StrokeFontData = {
  format: 'hobel-stroke-font',
  version: 1,
  family: 'Squares',
  credit: '',
  unitsPerEm: 20,
  capHeight: 10,
  glyphs: [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ']
    .map((char) => ({ char, advance: 10, strokes: [[0, 0, 8, 0, 8, 10, 0, 10, 0, 0]] }))
    .concat([{ char: ' ', advance: 5, strokes: [] }]),
};
const squares = createStrokeTypeface('squares', data);
const face = { ...createInscription('i', '', 'squares', 0), heightMm: 10 };
const lay = (text: string, options: Partial<typeof PLAIN_LAYOUT> = {}, patch: Partial<typeof face> = {}) =>
  computeLayout(text, { ...face, ...patch }, squares, null, { ...PLAIN_LAYOUT, ...options });
const xs = (l: ReturnType<typeof lay>) => l.glyphs.filter((g) => g.char !== ' ').map((g) => g.xMm);

describe('computeLayout', () => {
  it('puts letters by their advances, at the height asked for', () => {
    expect(xs(lay('ABC'))).toEqual([0, 10, 20]);
    expect(xs(lay('ABC', {}, { heightMm: 5 }))).toEqual([0, 5, 10]);
    expect(xs(lay('ABC', {}, { heightOf: 'body', heightMm: 10 }))).toEqual([0, 5, 10]);
    expect(xs(lay('ABC', {}, { widthRatio: 2 }))).toEqual([0, 20, 40]);
  });
  it('adds spacing between letters, by length and by share of the height', () => {
    expect(xs(lay('AB', {}, { letterSpacingMm: 3 }))).toEqual([0, 13]);
    expect(xs(lay('AB', {}, { letterSpacingPercent: 20 }))).toEqual([0, 12]);
    expect(xs(lay('A B', { wordSpacingMm: 4 }))).toEqual([0, 19]);
  });
  it('breaks lines at spaces, keeps long words whole, and drops the space at the break', () => {
    const rows = (text: string, wrapMm: number) => {
      const l = lay(text, { wrapMm });
      return Array.from({ length: l.lineCount }, (_, r) =>
        l.glyphs
          .filter((g) => g.row === r)
          .map((g) => g.char)
          .join(''),
      );
    };
    expect(rows('AB CD EF', 46)).toEqual(['AB CD', 'EF']);
    expect(rows('AB CD EF', 1000)).toEqual(['AB CD EF']);
    expect(rows('ABCDEFGH IJ', 30)).toEqual(['ABCDEFGH', 'IJ']);
    expect(rows('AB\nCD', 1000)).toEqual(['AB', 'CD']);
    expect(rows('', 10)).toEqual(['']);
  });
  it('counts gaps and spaces for justification, and knows rows that go on', () => {
    const l = lay('AB CD EF', { wrapMm: 46 });
    expect(l).toMatchObject({ gaps: [4, 1], spaces: [1, 0], goesOn: [true, false] });
  });
  it('keeps clusters in the whole text over lines', () =>
    expect(
      lay('A\nB C')
        .glyphs.filter((g) => g.char !== ' ')
        .map((g) => g.cluster),
    ).toEqual([0, 2, 4]));
  it('names what is missing and goes on without it', () => {
    const l = lay('AéB');
    expect(l.missing).toEqual(['é']);
    expect(xs(l)).toEqual([0, 10]);
  });
  it('takes any line ending, and control characters as spaces', () => {
    expect(lay('A\r\nB\rC').lineCount).toBe(3);
    expect(lay('A\u0007B').missing).toEqual([]);
  });
});

describe('readSvgFont', () => {
  const drawn = (d: string, unitsPerEm = '1000') =>
    readSvgFont(
      `<svg><defs><font horiz-adv-x="500"><font-face font-family="Made" units-per-em="${unitsPerEm}"/>
       <glyph unicode="I" d="M0 0L0 700"/><glyph unicode="A" d="${d}"/></font></defs></svg>`,
      'made.svg',
    );

  it('leaves out a glyph that leaves its em by far, and refuses an em of no size (regression: either ended the server)', () => {
    for (const d of ['M0 0C1e18 1 1 -1e18 3 3', 'M0 0Q1e300 0 5 5', 'M0 0L1e9 0', 'M0 0H-1e9']) {
      const read = drawn(d);
      expect(read.ok && read.value.glyphs.map((g) => g.char), d).toEqual(['I']);
    }
    for (const em of ['1e-300', '0', '-5', '1e9', 'x']) expect(drawn('M0 0L9 9', em).ok, em).toBe(false);
    const fine = drawn('M0 0C100 900 900 900 1000 0');
    expect(fine.ok && fine.value.glyphs.map((g) => g.char)).toEqual(['I', 'A']);
  });

  const font = (glyphs: string) =>
    `<svg xmlns="http://www.w3.org/2000/svg"><defs><font horiz-adv-x="500"><font-face font-family="Mine" units-per-em="1000"/>${glyphs}</font></defs></svg>`;
  it('reads open lines, curves and advances, and the height of capitals', () => {
    const read = readSvgFont(
      font(
        '<glyph unicode="H" horiz-adv-x="600" d="M0 0V700M400 0V700M0 350H400"/><glyph unicode="&#xe9;" d="M0 0C100 0 100 100 0 100"/><glyph unicode="ff" d="M0 0H1"/>',
      ),
      'x',
    );
    if (!read.ok) throw new Error(read.error.kind);
    expect(read.value).toMatchObject({ family: 'Mine', unitsPerEm: 1000, capHeight: 700 });
    expect(read.value.glyphs.map((g) => [g.char, g.advance])).toEqual([
      ['H', 600],
      ['é', 500],
    ]);
    expect(read.value.glyphs[0]!.strokes).toHaveLength(3);
    expect(read.value.glyphs[1]!.strokes[0]!.length).toBeGreaterThan(8);
  });
  it.each([
    ['no XML', '<', 'fontNotRecognised'],
    ['no font', '<svg/>', 'fontNotRecognised'],
    ['no letters', font(''), 'fontEmpty'],
    ['letters without lines', font('<glyph unicode="A"/>'), 'fontEmpty'],
    ['no size', font('').replace('1000', '0'), 'fontNotRecognised'],
  ])('refuses %s', (_, text, kind) => {
    const read = readSvgFont(text, 'x');
    expect(!read.ok && read.error.kind).toBe(kind);
  });
});
