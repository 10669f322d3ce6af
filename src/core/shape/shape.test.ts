import { describe, expect, it } from 'vitest';
import { ballCap, createDomeBlank, createRandom, getDomeMesh } from '../../../tests/support';
import { stepBlock, stepCylinder, stepNothing } from '../../../tests/stepFile';
import { createBlank } from '../job/defaults';
import { createSolid } from '../surface/solid';
import { loadStepReader } from '../../server/resources/shapes';
import { describeShapeError, healSoup, MAX_TRIANGLES } from './heal';
import { readObj } from './obj';
import { createPatch } from './patch';
import { findTopPick } from './pick';
import { detectShapeFormat, packShape, readShape, unpackShape } from './readShape';
import { computeBounds } from './shapeMesh';
import { readStl, writeStl } from './stl';

const bytesOf = (text: string) => new TextEncoder().encode(text);
const noStep = () => Promise.reject(new Error('not asked for'));
/** A cube of 10 as twelve loose triangles. */
const cube = (() => {
  const c = (i: number) => [i & 1 ? 10 : 0, i & 2 ? 10 : 0, i & 4 ? 10 : 0];
  return [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ].flatMap(([a, b, d, e]) => [a!, b!, d!, a!, d!, e!].flatMap(c));
})();
const heal = (corners: ArrayLike<number>) => {
  const made = healSoup({ corners: Float64Array.from(corners) });
  if (!made.ok) throw new Error(made.error.kind);
  return made.value;
};
const textStl = (corners: readonly number[], head = 'solid test') => {
  let out = `${head}\n`;
  for (let i = 0; i < corners.length; i += 9) {
    out += ' facet normal 0 0 0\n  outer loop\n';
    for (let k = 0; k < 9; k += 3) out += `   vertex ${corners[i + k]} ${corners[i + k + 1]!.toExponential(6)} ${corners[i + k + 2]}\n`;
    out += '  endloop\n endfacet\n';
  }
  return `${out}endsolid\n`;
};

describe('healSoup', () => {
  it('welds a cube: eight corners, twelve triangles, closed, of its volume and area', () => {
    const { report, neighbours } = heal(cube);
    expect(report).toMatchObject({
      triangles: 12,
      vertices: 8,
      degenerate: 0,
      duplicates: 0,
      flipped: 0,
      openEdges: 0,
      crowdedEdges: 0,
      parts: 1,
    });
    expect(report.volume).toBeCloseTo(1000, 9);
    expect(report.area).toBeCloseTo(600, 9);
    expect(Math.min(...neighbours)).toBeGreaterThanOrEqual(0);
  });
  it('turns what lies the wrong way round, and a whole that is inside out', () => {
    const some = [...cube];
    for (const f of [2, 5, 9])
      for (let k = 0; k < 3; k++) [some[9 * f + 3 + k], some[9 * f + 6 + k]] = [some[9 * f + 6 + k]!, some[9 * f + 3 + k]!];
    expect(heal(some).report).toMatchObject({ flipped: 3, openEdges: 0 });
    expect(heal(some).report.volume).toBeCloseTo(1000, 9);
    const inside = cube.map((_, i) => cube[i - (i % 9) + 8 - (i % 9) - 2 + 2 * ((i % 9) % 3)]!);
    expect(heal(inside).report).toMatchObject({ flipped: 12 });
    expect(heal(inside).report.volume).toBeCloseTo(1000, 9);
  });
  it('drops what has no area and what stands twice, and counts holes', () => {
    const report = heal([...cube.slice(9), ...cube.slice(9, 18), 0, 0, 0, 5, 5, 5, 10, 10, 10, 1, 1, 1, 1, 1, 1, 2, 2, 2]).report;
    expect(report).toMatchObject({ triangles: 11, duplicates: 1, degenerate: 2, openEdges: 3, crowdedEdges: 0 });
  });
  it('names edges of three faces, and parts that do not hang together', () => {
    const fin = [0, 0, 0, 10, 0, 0, 5, -5, -5];
    expect(heal([...cube, ...fin]).report.crowdedEdges).toBe(1);
    expect(heal([...cube, ...cube.map((v) => v + 50)]).report.parts).toBe(2);
  });
  it('leads across every edge to the triangle that shares it', () => {
    const mesh = getDomeMesh();
    mesh.neighbours.forEach((g, h) => {
      const f = Math.floor(h / 3),
        a = mesh.triangles[h]!,
        b = mesh.triangles[h % 3 === 2 ? h - 2 : h + 1]!;
      const own = [...mesh.triangles.subarray(3 * g, 3 * g + 3)];
      expect(g).not.toBe(f);
      expect(own).toEqual(expect.arrayContaining([a, b]));
    });
  });
  it.each([
    [[], 'empty'],
    [[1, 2, 3], 'empty'],
    [[0, 0, 0, 1, 1, 1, 2, 2, 2], 'empty'],
    [[0, 0, 0, 1, NaN, 1, 2, 2, 3], 'notReadable'],
    [[0, 0, 0, 1, Infinity, 1, 2, 2, 3], 'notReadable'],
  ])('refuses %j: %s', (corners, kind) => {
    const made = healSoup({ corners: Float64Array.from(corners) });
    expect(made.ok).toBe(false);
    if (!made.ok) {
      expect(made.error.kind).toBe(kind);
      expect(describeShapeError(made.error, 'part.stl')).toMatch(/^part\.stl .{20}/);
    }
  });
});

describe('readStl', () => {
  const triangles = Array.from({ length: 36 }, (_, i) => i);
  const binary = writeStl(cube, triangles, 'cube');
  const volume = (bytes: Uint8Array) => {
    const soup = readStl(bytes);
    if (!soup.ok) throw new Error(JSON.stringify(soup.error));
    return heal(soup.value.corners).report.volume;
  };
  it('reads binary and text to the same solid', () => {
    expect(volume(binary)).toBeCloseTo(1000, 6);
    expect(volume(bytesOf(textStl(cube)))).toBeCloseTo(1000, 6);
    expect(volume(bytesOf(textStl(cube).toUpperCase().replaceAll('\n', '\r\n')))).toBeCloseTo(1000, 6);
  });
  it('knows a binary file whose header begins like a text, and a text that is longer than 84 bytes', () => {
    expect(volume(writeStl(cube, triangles, 'solid exported by somebody'))).toBeCloseTo(1000, 6);
    expect(
      volume(
        bytesOf(textStl(cube, 'solid a text with quite a long name that goes on well past the eighty bytes of a binary header and more')),
      ),
    ).toBeCloseTo(1000, 6);
  });
  it('takes a binary file with something after its triangles', () => {
    const longer = new Uint8Array(binary.length + 7);
    longer.set(binary);
    expect(volume(longer)).toBeCloseTo(1000, 6);
  });
  it.each([
    ['an empty binary', writeStl([], [], 'nothing'), 'empty'],
    ['a binary cut off', binary.slice(0, 400), 'notReadable'],
    ['an empty text', bytesOf('solid x\nendsolid x\n'), 'empty'],
    ['a text cut off', bytesOf(textStl(cube).slice(0, 500)), 'notReadable'],
    ['a vertex of words', bytesOf('solid x\nvertex 1 two 3\n'), 'notReadable'],
    ['a picture', bytesOf('\u0089PNG not a solid at all'), 'notReadable'],
  ])('refuses %s', (_, bytes, kind) => {
    const soup = readStl(bytes);
    expect(soup.ok ? 'ok' : soup.error.kind).toBe(kind);
  });
  it('reads numbers as the language does, to the last digit', () => {
    const random = createRandom(5);
    const numbers = Array.from({ length: 300 }, () => (random() - 0.5) * 10 ** Math.floor(12 * random() - 6));
    const words = numbers.flatMap((v) => [String(v), v.toExponential(4), v.toFixed(3), `+${Math.abs(v)}`]);
    while (words.length % 9) words.push('1.');
    let text = 'solid numbers\n';
    for (let i = 0; i < words.length; i += 3) text += `vertex ${words.slice(i, i + 3).join(' ')}\n`;
    const soup = readStl(bytesOf(text));
    expect(soup.ok && [...soup.value.corners]).toEqual(words.map(Number));
  });
});

describe('readObj', () => {
  it('reads faces of many corners, negative indices, textures and comments', () => {
    const square = readObj('# a square\nv 0 0 0\nv 2 0 0\nv 2 2 0 # corner\nv 0 2 0\nvt 0 0\nvn 0 0 1\nf 1/1/1 2//1 -2 \\\n -1\n');
    expect(square.ok && square.value.corners.length).toBe(18);
    expect(square.ok && heal(square.value.corners).report.area).toBeCloseTo(4, 12);
  });
  it.each([
    ['v 1 2\nf 1 1 1', 'notReadable'],
    ['v 0 0 0\nf 1 2 9', 'notReadable'],
    ['v 0 0 0\nv 1 0 0\nf 1 2', 'notReadable'],
    ['v 0 0 0\nv 1 0 0\n', 'empty'],
    ['', 'empty'],
  ])('refuses %j', (text, kind) => {
    const read = readObj(text);
    expect(read.ok ? 'ok' : read.error.kind).toBe(kind);
  });
});

describe('readShape', () => {
  it('tells formats by what is in them, and by name where that says nothing', () => {
    expect(detectShapeFormat(bytesOf('ISO-10303-21;\nHEADER;'), 'x.stl')).toBe('step');
    expect(detectShapeFormat(bytesOf('solid x'), 'x')).toBe('stl');
    expect(detectShapeFormat(bytesOf('# made\nv 1 2 3'), 'x')).toBe('obj');
    expect(detectShapeFormat(bytesOf('hello'), 'x.txt')).toBeNull();
  });
  it('reads STEP by OpenCascade: a block and a cylinder of their volume and area, an inch as 25.4 mm', async () => {
    const read = async (text: string) => {
      const made = await readShape(bytesOf(text), 'part.step', loadStepReader);
      if (!made.ok) throw new Error(JSON.stringify(made.error));
      return made.value;
    };
    const block = await read(stepBlock(20, 30, 40));
    expect(block.report).toMatchObject({ openEdges: 0, parts: 1, flipped: 0 });
    expect(block.report.volume).toBeCloseTo(24_000, 6);
    expect(block.report.area).toBeCloseTo(2 * (600 + 800 + 1200), 6);
    const inch = computeBounds(await read(stepBlock(1, 2, 3, 'inch')));
    [25.4, 50.8, 76.2].forEach((v, k) => expect(inch.max[k]! - inch.min[k]!).toBeCloseTo(v, 6));
    const round = await read(stepCylinder(12, 50));
    expect(round.report.openEdges).toBe(0);
    expect(Math.abs(round.report.volume / (Math.PI * 144 * 50) - 1)).toBeLessThan(2e-3);
  });
  it('says that a STEP file has no solid, that one is broken, and that a file is nothing', async () => {
    const kind = async (bytes: Uint8Array, name: string) => {
      const made = await readShape(bytes, name, loadStepReader);
      return made.ok ? 'ok' : `${made.error.kind}: ${describeShapeError(made.error, name)}`;
    };
    expect(await kind(bytesOf(stepNothing()), 'a.step')).toMatch(/^noSolid: a\.step is a STEP file without a solid/);
    expect(await kind(bytesOf('ISO-10303-21;\ngarbage'), 'a.step')).toMatch(/^(notReadable|noSolid)/);
    expect(await kind(new Uint8Array(0), 'a.stl')).toMatch(/^empty/);
    expect(await kind(bytesOf('hello'), 'a.txt')).toMatch(/^notReadable/);
  });
  it('refuses more triangles than it can hold before it reads them', async () => {
    const bytes = new Uint8Array(84 + 50);
    new DataView(bytes.buffer).setUint32(80, MAX_TRIANGLES + 1, true);
    const made = await readShape(bytes, 'huge.stl', noStep);
    expect(made.ok).toBe(false);
  });
  it('lives through damaged copies of a good file', async () => {
    const good = writeStl(
      ballCap(40, 0.6, 6, 12),
      Array.from({ length: ballCap(40, 0.6, 6, 12).length / 3 }, (_, i) => i),
      'cap',
    );
    const random = createRandom(9);
    for (let k = 0; k < 80; k++) {
      const copy = good.slice(0, k % 3 ? good.length : Math.floor(random() * good.length));
      for (let j = 0; j < 12 && copy.length; j++) copy[Math.floor(random() * copy.length)] = Math.floor(256 * random());
      const made = await readShape(copy, 'cap.stl', noStep);
      if (made.ok) expect(Number.isFinite(made.value.report.area)).toBe(true);
      else expect(describeShapeError(made.error, 'cap.stl').length).toBeGreaterThan(30);
    }
  });
});

describe('packShape', () => {
  it('gives back what it was given, and refuses all else', () => {
    const mesh = getDomeMesh();
    const back = unpackShape(packShape(mesh))!;
    expect(back.report).toEqual(mesh.report);
    expect([...back.triangles]).toEqual([...mesh.triangles]);
    expect([...back.positions]).toEqual([...mesh.positions]);
    expect(unpackShape(new Uint8Array(10))).toBeNull();
    expect(unpackShape(packShape(mesh).slice(0, -1))).toBeNull();
  });
});

describe('findTopPick and createPatch', () => {
  it('pick the top of a dome, and a place on a ring that has no middle', () => {
    expect(findTopPick(getDomeMesh()).pick[2]).toBeCloseTo(40, 9);
    // A tube stood on end: nothing lies over its middle.
    const tube = createSolid({ ...createBlank('cylinder'), boreMm: 30 }, 0.05);
    const upright = tube.positions.map((_, i) => tube.positions[i - (i % 3) + (((i % 3) + 1) % 3)]!);
    const { pick } = findTopPick({ positions: upright, triangles: tube.triangles });
    expect(pick[2]).toBeCloseTo(80, 9);
    expect(Math.hypot(pick[0], pick[1])).toBeGreaterThan(14.9);
  });
  it('reports how far it is, and covers the dome above its foot', () => {
    const told: number[] = [];
    const patch = createPatch(createDomeBlank(), getDomeMesh(), (s) => told.push(s))!;
    expect(told.at(-1)).toBe(1);
    expect([...told].sort((a, b) => a - b)).toEqual(told);
    // A cap's area: 2πRh.
    expect(patch.areaMm2).toBeCloseTo(2 * Math.PI * 40 * (40 - Math.sqrt(1600 - 625)), -1);
    expect(patch.outline.starts.length - 1).toBe(1);
  });
});
