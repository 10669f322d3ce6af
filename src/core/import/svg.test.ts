import { describe, expect, it } from 'vitest';
import { readSvg } from './svg';

const svg = (inside: string, size = 'width="100mm" height="100mm" viewBox="0 0 100 100"') => {
  const made = readSvg(`<svg ${size}>${inside}</svg>`, 0.002);
  if (!made.ok) throw new Error(JSON.stringify(made.error));
  return made.value;
};
/** Box of a drawing, mm, y down as SVG counts it. */
const boxOf = (inside: string) => {
  const xy = svg(inside).lines.flatMap((l) => l.xy);
  const xs = xy.filter((_, i) => i % 2 === 0),
    ys = xy.filter((_, i) => i % 2).map((y) => 100 - y);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)].map((v) => Number(v.toFixed(6)));
};
const square = '<rect x="0" y="0" width="10" height="10"/>';

describe('views inside a drawing', () => {
  it('a nested svg has its place, its size and its viewBox', () => {
    expect(boxOf(`<svg x="20" y="30" width="40" height="40" viewBox="0 0 10 10">${square}</svg>`)).toEqual([20, 30, 60, 70]);
    expect(boxOf(`<svg x="20" y="30" width="40" height="40">${square}</svg>`)).toEqual([20, 30, 30, 40]);
    // Fitted whole and in the middle, or as it says.
    const wide = (aspect: string) =>
      boxOf(`<svg width="40" height="20" viewBox="0 0 10 10" preserveAspectRatio="${aspect}">${square}</svg>`);
    expect(wide('')).toEqual([10, 0, 30, 20]);
    expect(wide('xMinYMin meet')).toEqual([0, 0, 20, 20]);
    expect(wide('none')).toEqual([0, 0, 40, 20]);
  });
  it('a symbol takes the size of its use', () => {
    const symbol = `<symbol id="s" viewBox="0 0 10 10">${square}</symbol>`;
    expect(boxOf(`${symbol}<use href="#s" x="5" y="6" width="20" height="20"/>`)).toEqual([5, 6, 25, 26]);
    expect(boxOf(`${symbol}<use href="#s" width="50%" height="50%"/>`)).toEqual([0, 0, 50, 50]);
  });
  it('percentages are of the view', () => {
    expect(boxOf('<rect x="10%" y="20%" width="50%" height="25%"/>')).toEqual([10, 20, 60, 45]);
    expect(boxOf('<svg width="50" height="50"><rect x="10%" y="0" width="100%" height="10"/></svg>')).toEqual([5, 0, 55, 10]);
    const [x0, , x1] = boxOf('<circle cx="50%" cy="50%" r="10%"/>');
    expect(x1! - x0!).toBeCloseTo(20, 2);
  });
});

describe('style', () => {
  const drawn = (css: string, inside: string) => svg(`<style>${css}</style>${inside}`).lines.length;
  it('rules go by name, id and class, the stronger first', () => {
    expect(drawn('rect { display: none }', square)).toBe(0);
    expect(drawn('#a { display: none }', square.replace('<rect', '<rect id="a"'))).toBe(0);
    expect(drawn('rect.b { display: none }', square.replace('<rect', '<rect class="b c"'))).toBe(0);
    expect(
      drawn('#a { display: inline } .b { display: none } rect { display: none }', square.replace('<rect', '<rect id="a" class="b"')),
    ).toBe(1);
    expect(drawn('/* rect { display: none } */', square)).toBe(1);
  });
  it('rules that go by more are named', () => {
    expect(svg(`<style>g > rect, rect:hover { display: none }</style>${square}`).notes.join()).toContain('2 style rules');
  });
  it('a visible child of a hidden group is drawn, one of a group that is not displayed is not', () => {
    expect(svg(`<g visibility="hidden">${square}<rect visibility="visible" width="3" height="3"/></g>`).lines).toHaveLength(1);
    expect(svg('<g display="none"><rect visibility="visible" width="3" height="3"/></g>').lines).toHaveLength(0);
  });
  it('clip paths and masks are named', () => {
    const { notes } = svg(`<clipPath id="c">${square}</clipPath><g clip-path="url(#c)">${square}</g><g mask="url(#m)">${square}</g>`);
    expect(notes.join()).toContain('1 clip paths were ignored');
    expect(notes.join()).toContain('1 masks were ignored');
  });
});
