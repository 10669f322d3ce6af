import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { createRandom, getEngines } from '../../../tests/support';
import type { Engines } from '../pipeline/engines';
import { createOutlineTypeface } from './outlineTypeface';
import { MAX_FONT_BYTES, type Typeface } from './typeface';

const plain = { kerning: true, ligatures: true };
const bytes = (name: string) => new Uint8Array(readFileSync(`resources/fonts/${name}`));
let engines: Engines;
let sans: Typeface;
beforeAll(async () => {
  engines = await getEngines();
  const made = createOutlineTypeface(engines.harfbuzz, 'sans', 'sans', bytes('DejaVuSans.ttf'));
  if (!made.ok) throw new Error(made.error.kind);
  sans = made.value;
});
const width = (t: Typeface, text: string, options = plain) => t.shapeLine(text, options).reduce((sum, g) => sum + g.advance, 0);

describe('createOutlineTypeface', () => {
  it('kerns, and does not where it is told not to', () =>
    expect(width(sans, 'AVAVA')).toBeLessThan(width(sans, 'AVAVA', { ...plain, kerning: false })));

  it('joins ligatures, and does not where it is told not to', () => {
    expect(sans.shapeLine('ffi', plain).length).toBeLessThan(3);
    expect(sans.shapeLine('ffi', { ...plain, ligatures: false })).toHaveLength(3);
  });

  it('sets right-to-left text from the right, with digits running left to right', () => {
    const clusters = sans.shapeLine('שלום', plain).map((g) => g.cluster);
    expect(clusters).toEqual([3, 2, 1, 0]);
    const mixed = sans.shapeLine('אב 12', plain).map((g) => g.cluster);
    expect(mixed.slice(0, 2)).toEqual([3, 4]);
  });

  it('joins Arabic letters: the middle form differs from the lone one', () => {
    const alone = sans.shapeLine('ه', plain)[0]!.glyph;
    const inside = sans.shapeLine('ههه', plain).find((g) => g.cluster === 1)!.glyph;
    expect(inside).not.toBe(alone);
  });

  it('puts combining marks on their letter', () => {
    const marked = sans.shapeLine('x\u0304', plain);
    expect(new Set(marked.map((g) => g.cluster))).toEqual(new Set([0]));
    expect(width(sans, 'x\u0304')).toBe(width(sans, 'x'));
  });

  it('gives glyph 0 for what the font has not got', () =>
    expect(sans.shapeLine('A🐟', plain).map((g) => g.glyph === 0)).toEqual([false, true]));

  it('reads the height of capitals from the font: H of DejaVu Sans stands 1493 of 2048', () => {
    // Source: OS/2.sCapHeight and the outline of H in the shipped file.
    const h = sans.drawGlyph(sans.shapeLine('H', plain)[0]!.glyph).flatMap((c) => c.values.filter((_, i) => i % 2));
    expect(sans.capHeight).toBe(Math.max(...h));
  });
});

describe('broken and hostile font files', () => {
  const kindOf = (data: Uint8Array) => {
    const made = createOutlineTypeface(engines.harfbuzz, 'x', 'x.ttf', data);
    return made.ok ? 'ok' : made.error.kind;
  };
  it.each([
    ['empty', new Uint8Array(0)],
    ['one byte', new Uint8Array(1)],
    ['zeros', new Uint8Array(4096)],
    ['text', new TextEncoder().encode('this is not a font at all, whatever its name says')],
    ['an image', new Uint8Array([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0, 0, 13, 73])],
  ])('refuses %s', (_, data) => expect(kindOf(data)).toBe('fontNotRecognised'));

  it('refuses a font header with nothing behind it', () => expect(kindOf(bytes('DejaVuSans.ttf').slice(0, 600))).toBe('fontEmpty'));
  it('refuses a file over the limit by its size alone', () => expect(kindOf(new Uint8Array(MAX_FONT_BYTES + 1))).toBe('fontTooLarge'));

  it('lives through a hundred damaged copies: each loads or is refused, and can be asked to shape', () => {
    const whole = bytes('Cinzel_700Bold.ttf');
    const random = createRandom(99);
    for (let n = 0; n < 100; n++) {
      const data = whole.slice(0, n % 3 ? whole.length : Math.floor(random() * whole.length));
      for (let k = 0; k < 200; k++) data[12 + Math.floor(random() * (data.length - 12))] = Math.floor(random() * 256);
      const made = createOutlineTypeface(engines.harfbuzz, `d${n}`, 'damaged', data);
      if (made.ok) for (const g of made.value.shapeLine('HAMBURG', plain)) made.value.drawGlyph(g.glyph);
    }
  });
});
