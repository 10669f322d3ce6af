import { createSurface } from '../surface/registry';
import { describe, expect, it } from 'vitest';
import { carveJob, planJob } from '../../../tests/support';
import { computeSignedArea } from '../base/rings';
import { toSheetDxf } from '../export/sheetDxf';
import { cleanDrawing, type CleanOptions } from './clean';
import { describeImportError, MAX_ELEMENTS, type ImportedDrawing } from './drawing';
import { readDxf } from './dxf';
import { readSvg } from './svg';
import { readTable, toScaleTable, describeTableError } from './table';

const svg = (body: string, attributes = 'width="100mm" height="50mm" viewBox="0 0 100 50"'): ImportedDrawing => {
  const read = readSvg(
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${attributes}>${body}</svg>`,
    0.005,
  );
  if (!read.ok) throw new Error(describeImportError(read.error, 'x.svg'));
  return read.value;
};
const plain: CleanOptions = { joinMm: 0.05, layers: null, closedAreAreas: false };
const areaOf = (rings: number[][]) => rings.reduce((sum, r) => sum + computeSignedArea(r), 0);

describe('readSvg', () => {
  it('is in true size with y up, whatever the unit', () => {
    expect(svg('<path d="M10 10h20v5h-20z"/>').lines[0]!.xy).toEqual([10, 40, 30, 40, 30, 35, 10, 35]);
    expect(svg('<path d="M0 0h96"/>', 'width="1in" height="1in" viewBox="0 0 96 96"').lines[0]!.xy[2]).toBeCloseTo(25.4, 9);
    const bare = svg('<path d="M0 0h96" fill="none" stroke="red"/>', '');
    expect(bare.lines[0]!.xy[2]).toBeCloseTo(25.4, 9);
    expect(bare.notes.join()).toContain('1/96 in');
  });

  it('applies transforms from the inside out', () => {
    const [line] = svg(
      '<g transform="translate(10,0)"><line stroke="#000" x1="0" y1="0" x2="1" y2="0" transform="rotate(90) scale(2)"/></g>',
    ).lines;
    line!.xy.forEach((v, k) => expect(v).toBeCloseTo([10, 50, 10, 48][k]!, 9));
  });

  it('reads the basic shapes', () => {
    const shapes = svg(
      '<rect x="1" y="1" width="4" height="2" rx="0.5"/><circle cx="10" cy="10" r="3"/><ellipse cx="20" cy="10" rx="4" ry="2"/><polygon points="30,10 34,10 32,14"/><polyline fill="none" stroke="black" points="40,10 44,10 42,14"/>',
    ).lines;
    expect(shapes.map((l) => l.closed)).toEqual([true, true, true, true, false]);
    const area = (k: number) => Math.abs(computeSignedArea(shapes[k]!.xy));
    expect(area(0)).toBeCloseTo(8 - (4 - Math.PI) * 0.25, 1);
    expect(area(1)).toBeCloseTo(9 * Math.PI, 0);
    expect(area(2)).toBeCloseTo(8 * Math.PI, 0);
    expect(area(3)).toBeCloseTo(8, 9);
  });

  it('follows use and symbols, layers, classes and hidden things', () => {
    const d = svg(
      '<style>.cut{fill:none;stroke:#000}</style><defs><path id="p" d="M0 0h5v5z"/><symbol id="s"><circle r="2"/></symbol></defs><g id="one"><use href="#p" x="10"/><use xlink:href="#s"/></g><g id="two"><path class="cut" d="M0 0h3"/><path display="none" d="M0 0h9z"/></g>',
    );
    expect(d.layers).toEqual(['one', 'two']);
    expect(d.lines.map((l) => l.layer)).toEqual(['one', 'one', 'two']);
    expect(d.lines[0]!.xy[0]).toBe(10);
    expect(d.lines[2]!.fill).toBeNull();
  });

  it('reports text, images and links, and runs no script', () => {
    const notes = svg(
      '<text>Hi</text><script>alert(1)</script><image href="http://nowhere/x.png"/><use href="other.svg#x"/><path d="M0 0h1v1z"/>',
    ).notes.join('; ');
    for (const what of ['text', 'script', 'images', 'links outside']) expect(notes).toContain(what);
  });
});

describe('hostile SVG', () => {
  const failure = (text: string) => {
    const read = readSvg(text, 0.01);
    return read.ok ? 'read' : describeImportError(read.error, 'x.svg');
  };
  it('does not expand entities', () => {
    const bomb =
      '<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;&a;&a;"><!ENTITY c "&b;&b;&b;&b;&b;&b;&b;&b;&b;&b;"><!ENTITY d "&c;&c;&c;&c;&c;&c;&c;&c;&c;&c;">]><svg><text>&d;&d;&d;</text><path d="M0 0h1v1z"/></svg>';
    const read = readSvg(bomb, 0.01);
    expect(read.ok ? read.value.lines.length : 1).toBe(1);
  });
  it('refuses a million nested uses, and survives a circle of them', () => {
    let defs = '<path id="u0" d="M0 0h1v1z"/>';
    for (let k = 1; k <= 6; k++) defs += `<g id="u${k}">${`<use href="#u${k - 1}"/>`.repeat(10)}</g>`;
    const start = performance.now();
    expect(failure(`<svg><defs>${defs}</defs><use href="#u6"/></svg>`)).toContain(`more than ${MAX_ELEMENTS}`);
    expect(performance.now() - start).toBeLessThan(5000);
    expect(svg('<g id="a"><use href="#b"/><path d="M0 0h1v1z"/></g><g id="b"><use href="#a"/></g>').notes.join()).toContain(
      'lead back to themselves',
    );
  });
  it.each([
    '',
    'plain text',
    '<html></html>',
    '<svg',
    '\u0000',
    '<svg><path d="M0 0 L NaN 5 z"/></svg>',
    '<svg viewBox="0 0 0 0"><path d="M0 0h1v1z"/></svg>',
    '<svg><path d="M1e999 0h1v1z"/></svg>',
    '<svg><rect width="-5" height="NaN"/></svg>',
  ])('takes or refuses %j in words', (text) => {
    const read = readSvg(text, 0.01);
    if (!read.ok) expect(describeImportError(read.error, 'x.svg').length).toBeGreaterThan(20);
    else read.value.lines.forEach((l) => expect(l.xy.every(Number.isFinite)).toBe(true));
  });
});

const dxf = (entities: string, header = '9\n$INSUNITS\n70\n4\n', blocks = '') =>
  `0\nSECTION\n2\nHEADER\n${header}0\nENDSEC\n${blocks}0\nSECTION\n2\nENTITIES\n${entities}0\nENDSEC\n0\nEOF\n`;
const line = (x0: number, y0: number, x1: number, y1: number, layer = '0') =>
  `0\nLINE\n8\n${layer}\n10\n${x0}\n20\n${y0}\n11\n${x1}\n21\n${y1}\n`;
const dxfOf = (text: string, unit = 1) => {
  const read = readDxf(text, unit, 0.005);
  if (!read.ok) throw new Error(describeImportError(read.error, 'x.dxf'));
  return read.value;
};

describe('readDxf', () => {
  it('minds $INSUNITS, and asks for a unit where there is none', () => {
    expect(dxfOf(dxf(line(0, 0, 1, 0), '9\n$INSUNITS\n70\n1\n')).lines[0]!.xy).toEqual([0, 0, 25.4, 0]);
    const bare = dxfOf(dxf(line(0, 0, 1, 0), ''), 10);
    expect(bare.lines[0]!.xy).toEqual([0, 0, 10, 0]);
    expect(bare.notes[0]).toContain('taken as 10 mm');
  });

  it('reads arcs, circles, ellipses and splines', () => {
    const d = dxfOf(
      dxf(
        '0\nCIRCLE\n8\nA\n10\n5\n20\n5\n40\n3\n0\nARC\n8\nA\n10\n0\n20\n0\n40\n2\n50\n0\n51\n90\n0\nELLIPSE\n8\nB\n10\n0\n20\n0\n11\n4\n21\n0\n40\n0.5\n41\n0\n42\n6.283185307179586\n0\nSPLINE\n8\nB\n70\n8\n71\n2\n72\n6\n73\n3\n40\n0\n40\n0\n40\n0\n40\n1\n40\n1\n40\n1\n10\n0\n20\n0\n10\n1\n20\n2\n10\n2\n20\n0\n',
      ),
    );
    expect(d.layers).toEqual(['A', 'B']);
    expect(Math.abs(computeSignedArea(d.lines[0]!.xy))).toBeCloseTo(9 * Math.PI, 0);
    expect(d.lines[1]!.xy.slice(-2).map((v) => Math.abs(v))).toEqual([expect.closeTo(0, 9), 2]);
    expect(Math.abs(computeSignedArea(d.lines[2]!.xy))).toBeCloseTo(8 * Math.PI, 0);
    // The quadratic Bezier (0,0) (1,2) (2,0) peaks at 1.
    const ys = d.lines[3]!.xy.filter((_, i) => i % 2);
    expect(Math.max(...ys)).toBeCloseTo(1, 2);
    expect(d.lines[3]!.xy.slice(-2)).toEqual([expect.closeTo(2, 6), expect.closeTo(0, 6)]);
  });

  it('puts in blocks, turned and scaled, and survives one that holds itself', () => {
    const blocks = `0\nSECTION\n2\nBLOCKS\n0\nBLOCK\n8\n0\n2\nB\n70\n0\n10\n0\n20\n0\n3\nB\n1\n\n${line(0, 0, 1, 0)}0\nINSERT\n8\n0\n2\nB\n10\n0\n20\n0\n0\nENDBLK\n8\n0\n0\nENDSEC\n`;
    const d = dxfOf(dxf('0\nINSERT\n8\nMARKS\n2\nB\n10\n5\n20\n5\n41\n2\n42\n2\n50\n90\n', undefined, blocks));
    expect(d.lines[0]!.layer).toBe('MARKS');
    d.lines[0]!.xy.forEach((v, k) => expect(v).toBeCloseTo([5, 5, 5, 7][k]!, 9));
    expect(d.notes.join()).toContain('lead back to themselves');
  });

  it('leaves out what is no number and says so', () => {
    expect(dxfOf(dxf(line(0, 0, NaN, 1) + line(0, 0, 1, 1))).lines).toHaveLength(1);
  });

  it.each(['', 'no dxf', '0\nSECTION\n2\nENTITIES\n0\nLINE\n', '0\nEOF\n', '\u0000\u0000', '999\n'.repeat(100)])(
    'refuses %j in words',
    (text) => {
      const read = readDxf(text, 1, 0.01);
      if (!read.ok) expect(describeImportError(read.error, 'x.dxf')).toContain('x.dxf');
    },
  );

  it('refuses more entities than can be handled', () => {
    const read = readDxf(dxf(line(0, 0, 1, 1).repeat(MAX_ELEMENTS + 1)), 1, 0.01);
    expect(!read.ok && describeImportError(read.error, 'x.dxf')).toContain(`more than ${MAX_ELEMENTS}`);
  }, 30_000);

  it('reads back what is exported, in true size', async () => {
    const job = carveJob('QUAY');
    const { lettering } = await planJob(job);
    const d = dxfOf(toSheetDxf(lettering, createSurface(job.blank)));
    expect(d.layers).toEqual(expect.arrayContaining(['SHEET', 'AREAS']));
    const back = cleanDrawing(d, { ...plain, layers: ['AREAS'], closedAreAreas: true }).layers.find((l) => l.name === 'AREAS')!;
    const own = lettering.artworks[0]!.regions;
    let area = 0;
    for (let k = 0; k + 1 < own.starts.length; k++) area += computeSignedArea(own.xy.subarray(2 * own.starts[k]!, 2 * own.starts[k + 1]!));
    expect(areaOf(back.rings)).toBeCloseTo(area, 2);
  });
});

describe('cleanDrawing', () => {
  const drawing = (lines: Partial<ImportedDrawing['lines'][number]>[]): ImportedDrawing => ({
    lines: lines.map((l) => ({ layer: 'L', xy: [], closed: false, fill: null, ...l })),
    layers: ['L'],
    notes: [],
  });
  it('joins ends into closed outlines, whichever way round they were drawn', () => {
    const { layers, report } = cleanDrawing(
      drawing([{ xy: [0, 0, 10, 0] }, { xy: [10, 10, 10.01, 0] }, { xy: [10, 10, 0, 10] }, { xy: [0, 0.02, 0, 10] }]),
      plain,
    );
    expect(report).toMatchObject({ joined: 3, areas: 1, strokes: 0, closedGaps: 1 });
    expect(areaOf(layers[0]!.rings)).toBeCloseTo(100, 0);
  });
  it('leaves ends that are further apart alone', () => {
    expect(cleanDrawing(drawing([{ xy: [0, 0, 10, 0] }, { xy: [10.2, 0, 20, 0] }]), plain).layers[0]!.chains).toHaveLength(2);
  });
  it('drops duplicates, either way round, and what has no length', () => {
    const { report } = cleanDrawing(
      drawing([
        { xy: [0, 0, 5, 0] },
        { xy: [5, 0, 0, 0] },
        { xy: [1, 1, 1, 1] },
        { xy: [0, 0, 1, 0, 1, 1], closed: true },
        { xy: [1, 1, 1, 0, 0, 0], closed: true },
      ]),
      { ...plain, joinMm: 0 },
    );
    expect(report).toMatchObject({ duplicates: 2, zeroLength: 1, areas: 1, strokes: 1 });
  });
  it('resolves islands by the fill rule and removes crossings', () => {
    const square = (a: number, b: number) => [a, a, b, a, b, b, a, b];
    const nested = (rule: 'evenodd' | 'nonzero') =>
      areaOf(
        cleanDrawing(
          drawing([square(0, 10), square(2, 8), square(4, 6)].map((xy) => ({ xy, closed: true, fill: { rule, shape: 1 } }))),
          plain,
        ).layers[0]!.rings,
      );
    expect(nested('evenodd')).toBeCloseTo(100 - 36 + 4, 6);
    expect(nested('nonzero')).toBeCloseTo(100, 6);
    expect(cleanDrawing(drawing([{ xy: [0, 0, 2, 2, 2, 0, 0, 2], closed: true }]), plain).layers[0]!.rings).toHaveLength(2);
  });
  it('takes only the layers asked for', () => {
    const d = {
      lines: [
        { layer: 'A', xy: [0, 0, 1, 0], closed: false, fill: null },
        { layer: 'B', xy: [0, 0, 0, 1], closed: false, fill: null },
      ],
      layers: ['A', 'B'],
      notes: [],
    };
    expect(cleanDrawing(d, { ...plain, layers: ['B'] }).layers.map((l) => [l.name, l.on])).toEqual([
      ['A', false],
      ['B', true],
    ]);
  });
});

describe('readTable', () => {
  const table = (text: string) => {
    const read = readTable(text);
    if (!read.ok) throw new Error(describeTableError(read.error, 'x.csv'));
    return read.value;
  };
  it('takes a byte-order mark, semicolons, quotes and ragged rows', () => {
    const t = table('\ufeffname;town\n"Reed; A.";Port\nMoss\nHill;Quay;extra\n\n');
    expect(t.columns).toEqual(['name', 'town']);
    expect(t.rows).toEqual([
      ['Reed; A.', 'Port'],
      ['Moss', ''],
      ['Hill', 'Quay'],
    ]);
    expect(t.notes).toHaveLength(2);
  });
  it('takes commas and tabs, names what has no name, and parts equal names', () => {
    expect(table('a,a,\n1,2,3').columns).toEqual(['a', 'a 2', 'column 3']);
    expect(table('a\tb\n1\t2').rows).toEqual([['1', '2']]);
  });
  it.each(['', 'only a head', '\n\n'])('refuses %j', (text) => expect(readTable(text).ok).toBe(false));
  it('refuses too many rows with the number said', () => {
    const read = readTable(`a\n${'1\n'.repeat(6000)}`);
    expect(!read.ok && describeTableError(read.error, 'x.csv')).toBe('x.csv has 6000 rows; up to 5000 can be taken');
  });
  it('makes a tabulated scale of two columns of numbers', () => {
    const scale = toScaleTable(table('value;mm\n0;10\n5;14,5\n10;20'));
    expect(scale.ok && scale.value).toEqual([
      { value: 0, share: 0 },
      { value: 5, share: 0.45 },
      { value: 10, share: 1 },
    ]);
    expect(toScaleTable(table('value;mm\n0;ten')).ok).toBe(false);
  });
});
