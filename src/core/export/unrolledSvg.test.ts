import { describe, expect, it } from 'vitest';
import { parse } from 'svgson';
import { carveJob, planJob } from '../../../tests/support';
import { toUnrolledSvg } from './unrolledSvg';

describe('toUnrolledSvg', () => {
  it('is in true size, in millimetres, with lettering and each level as layers', async () => {
    const job = carveJob('AB & <C>', { blank: { diameterMm: 42, lengthMm: 60 }, carve: { levels: { by: 'count', count: 2 } } });
    const { setup, lettering, plan } = await planJob(job);
    const svg = await parse(toUnrolledSvg(setup, lettering, plan));
    expect(svg.attributes.width).toBe('60mm');
    expect(svg.attributes.height).toBe('131.9469mm');
    expect(svg.attributes.viewBox!.split(' ').slice(2)).toEqual(['60', '131.9469']);
    const ids = svg.children.map((c) => c.attributes.id).filter(Boolean);
    expect(ids).toEqual(['sheet', 'lettering', 'passes']);
    const passes = svg.children.find((c) => c.attributes.id === 'passes')!.children;
    expect(passes.map((p) => Number(p.attributes['data-depth-mm']))).toEqual(plan.cuts[0]!.levelsMm.map((d) => Math.round(d * 1e4) / 1e4));
  });
});
