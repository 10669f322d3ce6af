/*
 * Papers in true size, as another program draws their PDFs, against the development of cylinder and cone worked by hand: the sheet-metal
 * worker's flat pattern (common practice, no source).
 */
import { getDocument, OPS } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { describe, expect, it } from 'vitest';
import { BAR_MM, toPaperWrap } from '../src/core/export/paperWrap';
import { createBlank } from '../src/core/job/defaults';
import type { Blank } from '../src/core/job/schema';
import { renderPaperWrap } from '../src/server/resources/setupPdf';
import { carveJob, createDomeBlank, planJob, domeShapes } from '../tests/support';

const MM_PER_PT = 25.4 / 72;
type Matrix = [number, number, number, number, number, number];

/** Boxes of all that is drawn on the first page, mm, with the size of the page. */
async function drawn(bytes: Uint8Array) {
  const page = await (await getDocument({ data: bytes.slice(), verbosity: 0 }).promise).getPage(1);
  const { fnArray, argsArray } = await page.getOperatorList();
  const [, , w, h] = page.view as [number, number, number, number];
  let m: Matrix = [1, 0, 0, 1, 0, 0];
  const stack: Matrix[] = [];
  const boxes: { width: number; height: number }[] = [];
  fnArray.forEach((fn, k) => {
    const args = argsArray[k] as unknown[];
    if (fn === OPS.save) stack.push(m);
    else if (fn === OPS.restore) m = stack.pop()!;
    else if (fn === OPS.transform) {
      const [a, b, c, d, e, f] = args as Matrix;
      const o = m;
      m = [
        o[0] * a + o[2] * b,
        o[1] * a + o[3] * b,
        o[0] * c + o[2] * d,
        o[1] * c + o[3] * d,
        o[0] * e + o[2] * f + o[4],
        o[1] * e + o[3] * f + o[5],
      ];
    } else if (fn === OPS.constructPath) {
      const [x0, y0, x1, y1] = args[2] as [number, number, number, number];
      boxes.push({ width: Math.abs(m[0] * (x1 - x0)) * MM_PER_PT, height: Math.abs(m[3] * (y1 - y0)) * MM_PER_PT });
    }
  });
  return { page: [w * MM_PER_PT, h * MM_PER_PT] as const, boxes };
}

const wrapOf = async (blank: Blank) => {
  const { lettering, surface } = await planJob({ ...carveJob('BOW'), blank }, null, blank.kind === 'free' ? domeShapes() : undefined);
  return toPaperWrap(surface, lettering.artworks, 'Test <piece>');
};
/** Points of the paths of a drawing, mm, in the order in which they stand. */
const pathsOf = (svg: string): [number, number][][] =>
  [...svg.matchAll(/ d="([^"]+)"/g)].map(([, d]) =>
    [...d!.matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)].map((m) => [Number(m[1]), -Number(m[2])]),
  );

describe('a paper to wrap round the blank', () => {
  it('of a cylinder is as long as it goes round, and its bar is 100 mm on the page, by another program', async () => {
    const made = await wrapOf({ ...createBlank('cylinder'), diameterMm: 42, lengthMm: 60 } as Blank);
    if (!made.ok) throw new Error(made.error.kind);
    const { page, boxes } = await drawn(await renderPaperWrap(made.value, 'Test'));
    expect(page.map((v) => Math.round(v))).toEqual([210, 297]);
    const near = (width: number, height: number) =>
      boxes.some((b) => Math.abs(b.width - width) < 0.01 && Math.abs(b.height - height) < 0.01);
    expect(near(BAR_MM, 0)).toBe(true);
    expect(near(60, Math.PI * 42)).toBe(true);
  });

  it('of a cone is a sector: rulings as long as they are, and its ends arcs as long as the cone is round there', async () => {
    const [d0, d1, length] = [40, 60, 70];
    const made = await wrapOf({ ...createBlank('cone'), datumDiameterMm: d0, farDiameterMm: d1, lengthMm: length } as Blank);
    if (!made.ok) throw new Error(made.error.kind);
    const [skin] = pathsOf(made.value.svg);
    const slant = Math.hypot(length, (d1 - d0) / 2);
    const apex = ((d0 / 2) * slant) / ((d1 - d0) / 2);
    const radii = skin!.map(([x, y]) => Math.hypot(x, y));
    // All of the edge lies on the two arcs, or on the two rulings between.
    expect(Math.min(...radii)).toBeCloseTo(apex, 2);
    expect(Math.max(...radii)).toBeCloseTo(apex + slant, 2);
    const arcOf = (r: number): number => {
      const on = skin!.filter((_, k) => Math.abs(radii[k]! - r) < 0.02);
      const angles = on.map(([x, y]) => Math.atan2(y, x));
      return r * (Math.max(...angles) - Math.min(...angles));
    };
    expect(arcOf(apex)).toBeCloseTo(Math.PI * d0, 1);
    expect(arcOf(apex + slant)).toBeCloseTo(Math.PI * d1, 1);
    // Chords leave their arcs by no more than a hundredth.
    for (let k = 0; k + 1 < skin!.length; k++) {
      const [a, b] = [skin![k]!, skin![k + 1]!];
      const [ra, rb] = [radii[k]!, radii[k + 1]!];
      if (Math.abs(ra - rb) > 0.01) continue;
      expect(ra - Math.hypot((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)).toBeLessThan(0.011);
    }
    const { boxes } = await drawn(await renderPaperWrap(made.value, 'Test'));
    expect(boxes.some((b) => Math.abs(b.width - BAR_MM) < 0.01 && b.height < 0.01)).toBe(true);
  });

  it.each([
    [40, 60],
    [60, 30],
  ])('of a cone from %d to %d mm is seen from outside: no letter is mirrored, and all are as large as on the skin', async (d0, d1) => {
    const blank = { ...createBlank('cone'), datumDiameterMm: d0, farDiameterMm: d1, lengthMm: 70 } as Blank;
    const { lettering, surface } = await planJob({ ...carveJob('L', { words: { heightMm: 10 } }), blank });
    const made = toPaperWrap(surface, lettering.artworks, 'Test');
    if (!made.ok) throw new Error(made.error.kind);
    const areaOf = (points: readonly (readonly [number, number])[]): number =>
      points.reduce((sum, [x, y], k) => {
        const [u, v] = points[(k + 1) % points.length]!;
        return sum + (x * v - u * y) / 2;
      }, 0);
    const { xy } = lettering.artworks[0]!.regions;
    const sheet = Array.from({ length: xy.length / 2 }, (_, i) => [xy[2 * i]!, xy[2 * i + 1]!] as const);
    const [x] = sheet[0]!;
    // On the skin: along in mm of the slant, round by the true radius there.
    const scale = surface.radiusAt(x, 0) / surface.mmPerRad;
    const letter = pathsOf(made.value.svg)
      .map(areaOf)
      .find((a) => Math.abs(Math.abs(a) / (areaOf(sheet) * scale) - 1) < 0.1);
    expect(letter).toBeDefined();
    expect(Math.sign(letter!)).toBe(Math.sign(areaOf(sheet)));
  });

  it('is refused where the skin has folds, and where it would be longer than a PDF can say', async () => {
    expect(await wrapOf(createDomeBlank())).toEqual({ ok: false, error: { kind: 'notFlat' } });
    expect(await wrapOf(createBlank('turned'))).toEqual({ ok: false, error: { kind: 'notFlat' } });
    const long = await wrapOf({ ...createBlank('cylinder'), diameterMm: 1900, lengthMm: 60 } as Blank);
    expect(long).toMatchObject({ ok: false, error: { kind: 'tooLarge' } });
  });
});
