import { readFileSync } from 'node:fs';
import * as fontkit from 'fontkit';
import { describe, expect, it } from 'vitest';
import { createOutlineTypeface } from '../src/core/lettering/outlineTypeface';
import { getEngines } from '../tests/support';

/** Source: fontkit (npm), an independent shaping engine; both follow the OpenType specification (GSUB, GPOS). */
const files = [
  'DejaVuSans.ttf',
  'DejaVuSans-Bold.ttf',
  'DejaVuSerif-Bold.ttf',
  'Montserrat_700Bold.ttf',
  'Cinzel_700Bold.ttf',
  'ZillaSlab_700Bold.ttf',
  'GreatVibes_400Regular.ttf',
];
const words = ['AVATAR', 'Type To Fit', 'office waffle', 'KESTREL QUAY', 'ToWaLYT. "P,A"', 'ΑΘΗΝΑ τύπος', 'Мастер Туман'];

/**
 * Five faces and more that have all four: Latin, Greek, Cyrillic and Hebrew; two of them Arabic as well. Files of
 * dejavu-fonts-ttf (npm).
 */
const wide = [
  'DejaVuSans',
  'DejaVuSans-Bold',
  'DejaVuSans-Oblique',
  'DejaVuSans-BoldOblique',
  'DejaVuSansCondensed',
  'DejaVuSansCondensed-Bold',
];
const scripts: Record<string, string[]> = {
  Latin: ['Wavy Type', 'AVOWAL'],
  Greek: ['Ἀθῆναι', 'ΤΥΠΟΣ'],
  Cyrillic: ['Грот', 'ГТУХ'],
  Hebrew: ['שלום', 'אבגד'],
  Arabic: ['ميناء', 'بحر'],
};

describe.each(wide)('four scripts and more in %s', (name) => {
  const bytes = readFileSync(`node_modules/dejavu-fonts-ttf/ttf/${name}.ttf`);
  const reference = fontkit.create(bytes) as fontkit.Font;
  it.each(Object.keys(scripts))('%s: glyphs, their order and their places', async (script) => {
    const made = createOutlineTypeface((await getEngines()).harfbuzz, name, name, new Uint8Array(bytes));
    if (!made.ok) throw new Error(made.error.kind);
    for (const text of scripts[script]!) {
      if (script === 'Arabic' && ![...text].every((c) => reference.hasGlyphForCodePoint(c.codePointAt(0)!))) continue;
      const ours = made.value.shapeLine(text, { kerning: true, ligatures: true });
      const theirs = reference.layout(text);
      expect(
        ours.map((g) => g.glyph),
        text,
      ).toEqual(theirs.glyphs.map((g) => g.id));
      theirs.positions.forEach((p, i) => expect(Math.abs(ours[i]!.advance - p.xAdvance), text).toBeLessThanOrEqual(1));
      const sum = (list: number[]) => list.reduce((s, v) => s + v, 0);
      expect(Math.abs(sum(ours.map((g) => g.advance)) - sum(theirs.positions.map((p) => p.xAdvance)))).toBeLessThanOrEqual(1);
    }
  });
});

describe.each(files)('advances and glyphs of %s', (file) => {
  const bytes = readFileSync(`resources/fonts/${file}`);
  const reference = fontkit.create(bytes) as fontkit.Font;
  it.each(words)('%s', async (text) => {
    const made = createOutlineTypeface((await getEngines()).harfbuzz, file, file, new Uint8Array(bytes));
    if (!made.ok) throw new Error(made.error.kind);
    const ours = made.value.shapeLine(text, { kerning: true, ligatures: true });
    const theirs = reference.layout(text);
    expect(ours.map((g) => g.glyph)).toEqual(theirs.glyphs.map((g) => g.id));
    theirs.positions.forEach((p, i) => expect(Math.abs(ours[i]!.advance - p.xAdvance)).toBeLessThanOrEqual(1));
  });
  it('units and height of capitals', async () => {
    const made = createOutlineTypeface((await getEngines()).harfbuzz, file, file, new Uint8Array(bytes));
    expect(made.ok && made.value.unitsPerEm).toBe(reference.unitsPerEm);
    // Some of these fonts have an OS/2 table too old to hold a height of capitals: there it is the top of the H.
    const top = reference.capHeight || reference.glyphForCodePoint(0x48).bbox.maxY;
    expect(made.ok && Math.abs(made.value.capHeight - top)).toBeLessThan(0.002 * reference.unitsPerEm);
  });
});
