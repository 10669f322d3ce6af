import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { deflateSync } from 'node:zlib';
import { beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { compress } from 'wawoff2';
import { carveJob, createRandom, getEngines } from '../../tests/support';
import { createOutlineTypeface } from '../core/lettering/outlineTypeface';
import { createStrokeTypeface, type StrokeFontData } from '../core/lettering/strokeTypeface';
import type { Engines } from '../core/pipeline/engines';
import { openDb, type Db } from './db/connection';
import { createJobRow } from './jobs';
import { decodeFontFile, unpackWoff } from './resources/fontFiles';
import { seed } from './seed';
import { readFontHere } from './resources/readFont';
import { readFontApart } from './resources/readFontApart';
import { addFont, describeFontRefusal, listFonts, listFontUses, readFont, removeFont } from './typeCase';

const ttf = new Uint8Array(readFileSync('resources/fonts/ZillaSlab_700Bold.ttf'));
let engines: Engines;
let db: Db;
beforeAll(async () => {
  engines = await getEngines();
});
beforeEach(() => {
  db = openDb(mkdtempSync(path.join(tmpdir(), 'hobel-fonts-')));
  seed(db, 1);
});

/** A WOFF made from an sfnt, after the W3C's description. */
function packWoff(sfnt: Uint8Array): Uint8Array {
  const view = new DataView(sfnt.buffer, sfnt.byteOffset);
  const n = view.getUint16(4);
  const parts = Array.from({ length: n }, (_, k) => {
    const at = 12 + 16 * k;
    const raw = sfnt.subarray(view.getUint32(at + 8), view.getUint32(at + 8) + view.getUint32(at + 12));
    const packed = deflateSync(raw);
    return {
      tag: view.getUint32(at),
      sum: view.getUint32(at + 4),
      length: raw.length,
      data: packed.length < raw.length ? new Uint8Array(packed) : raw,
    };
  });
  const out = new Uint8Array(44 + 20 * n + parts.reduce((s, p) => s + ((p.data.length + 3) & ~3), 0));
  const head = new DataView(out.buffer);
  head.setUint32(0, 0x774f4646);
  head.setUint32(4, view.getUint32(0));
  head.setUint16(12, n);
  let offset = 44 + 20 * n;
  parts.forEach((p, k) => {
    [p.tag, offset, p.data.length, p.length, p.sum].forEach((v, i) => head.setUint32(44 + 20 * k + 4 * i, v));
    out.set(p.data, offset);
    offset += (p.data.length + 3) & ~3;
  });
  return out;
}
const advance = (bytes: Uint8Array) => {
  const made = createOutlineTypeface(engines.harfbuzz, 'x', 'x', bytes);
  if (!made.ok) throw new Error(made.error.kind);
  return made.value.shapeLine('Tow', { kerning: true, ligatures: true }).map((g) => g.advance);
};
const kindOf = async (bytes: Uint8Array) => {
  const added = await addFont(db, readFontHere(engines), 'x.ttf', bytes, 1);
  return added.ok ? 'added' : added.error.kind;
};

describe('decodeFontFile', () => {
  it('unpacks WOFF and WOFF2 to what they were made of', async () => {
    expect(advance(unpackWoff(packWoff(ttf)))).toEqual(advance(ttf));
    const woff2 = await decodeFontFile('x.woff2', new Uint8Array(await compress(ttf)));
    expect(woff2.ok && advance(woff2.value.bytes)).toEqual(advance(ttf));
  });

  it('reads an SVG stroke font with accents', async () => {
    const svg = readFileSync('node_modules/hersheytext/svg_fonts/HersheySans1.svg');
    const made = await decodeFontFile('h.svg', new Uint8Array(svg));
    if (!made.ok) throw new Error(made.error.kind);
    const face = createStrokeTypeface('h', JSON.parse(new TextDecoder().decode(made.value.bytes)) as StrokeFontData);
    expect(face.capHeight).toBeGreaterThan(100);
    for (const char of 'AZéß&"')
      expect(face.drawGlyph(face.shapeLine(char, { kerning: true, ligatures: true })[0]!.glyph).length).toBeGreaterThan(1);
  });
});

describe('the type case', () => {
  it('has eight or more kinds of outline fonts and the stroke fonts, all with a hash', () => {
    const all = listFonts(db);
    expect(new Set(all.filter((f) => f.kind === 'outline').map((f) => f.class)).size).toBeGreaterThanOrEqual(8);
    expect(all.filter((f) => f.kind === 'stroke')).toHaveLength(4);
    all.forEach((f) => {
      expect(f.sha256).toMatch(/^[0-9a-f]{64}$/);
      expect(readFont(db, f.id)!.bytes.length).toBeGreaterThan(1000);
    });
  });

  it('takes a font in, once, and names the jobs that use it before it goes', async () => {
    const changed = ttf.slice();
    changed[changed.length - 1]! ^= 1;
    const added = await addFont(db, readFontHere(engines), 'Own.ttf', changed, 2);
    if (!added.ok) throw new Error(added.error.kind);
    const { id } = added.value;
    expect(added.value).toMatchObject({ family: 'Zilla Slab', own: true, kind: 'outline', weight: 700 });
    expect(await kindOf(changed)).toBe('fontKnown');
    createJobRow(db, carveJob('USES IT', { words: { font: { id } } }), '', 3);
    expect(listFontUses(db, id)).toEqual(['Test piece']);
    expect(removeFont(db, id)).toBe(true);
    expect(readFont(db, id)).toBeNull();
  });

  it('does not give up a font that ships', () => expect(removeFont(db, 'cinzel-bold')).toBe(false));

  it.each([
    ['empty', new Uint8Array(0), 'fontNotRecognised'],
    ['text', new TextEncoder().encode('not a font, whatever it is called'), 'fontNotRecognised'],
    ['an SVG drawing', new TextEncoder().encode('<svg><path d="M0 0h1"/></svg>'), 'fontNotRecognised'],
    ['an SVG font without letters', new TextEncoder().encode('<svg><font><font-face units-per-em="1000"/></font></svg>'), 'fontEmpty'],
    ['a WOFF that is cut off', packWoff(ttf).slice(0, 5000), 'fontNotRecognised'],
    [
      'a WOFF2 head with nothing behind it',
      Uint8Array.from([0x77, 0x4f, 0x46, 0x32, ...new Array<number>(60).fill(0)]),
      'fontNotRecognised',
    ],
    [
      'a WOFF2 that says it unpacks to 4 GB',
      Uint8Array.from([0x77, 0x4f, 0x46, 0x32, 0, 1, 0, 0, 0, 0, 0, 64, 0, 1, 0, 0, 255, 255, 255, 255, ...new Array<number>(44).fill(0)]),
      'fontTooLarge',
    ],
    ['33 MB', new Uint8Array(33 * 1024 * 1024), 'fontTooLarge'],
  ])('refuses %s in words and keeps nothing', async (_, bytes, kind) => {
    const before = listFonts(db).length;
    const added = await addFont(db, readFontHere(engines), 'bad.ttf', bytes, 2);
    expect(!added.ok && added.error.kind).toBe(kind);
    expect(!added.ok && describeFontRefusal(added.error)).toContain('bad.ttf');
    expect(listFonts(db)).toHaveLength(before);
  });

  it('lives through a composite glyph that contains itself', async () => {
    // Every composite of the font is made to name itself as its part.
    const font = new Uint8Array(readFileSync('resources/fonts/DejaVuSans-Bold.ttf'));
    const view = new DataView(font.buffer);
    const table = (tag: string) => {
      for (let k = 0; k < view.getUint16(4); k++)
        if (String.fromCharCode(...font.subarray(12 + 16 * k, 16 + 16 * k)) === tag) return view.getUint32(12 + 16 * k + 8);
      throw new Error(tag);
    };
    const [glyf, loca, long, count] = [table('glyf'), table('loca'), view.getInt16(table('head') + 50), view.getUint16(table('maxp') + 4)];
    let made = 0;
    for (let g = 0; g < count; g++) {
      const at = glyf + (long ? view.getUint32(loca + 4 * g) : 2 * view.getUint16(loca + 2 * g));
      if (at + 14 < font.length && view.getInt16(at) < 0) {
        view.setUint16(at + 12, g);
        made++;
      }
    }
    expect(made).toBeGreaterThan(10);
    const face = createOutlineTypeface(engines.harfbuzz, 'c', 'c', font);
    if (face.ok) for (const g of face.value.shapeLine('ÄÖÜéàç½', { kerning: true, ligatures: true })) face.value.drawGlyph(g.glyph);
    expect(['added', 'fontKnown']).toContain(await kindOf(font));
  });

  it('lives through fifty damaged WOFFs', async () => {
    const whole = packWoff(ttf);
    const random = createRandom(5);
    for (let n = 0; n < 50; n++) {
      const data = whole.slice();
      for (let k = 0; k < 60; k++) data[4 + Math.floor(random() * (data.length - 4))] = Math.floor(random() * 256);
      await kindOf(data);
    }
  });
});

describe('readFontApart', () => {
  const child = (code: string): string => {
    const file = path.join(mkdtempSync(path.join(tmpdir(), 'hobel-child-')), 'child.ts');
    writeFileSync(file, code);
    return file;
  };
  it('reads a font in a process of its own as it would here, and says of what is none why', async () => {
    const apart = await readFontApart()('Own.ttf', ttf);
    const here = await readFontHere(engines)('Own.ttf', ttf);
    if (!apart.ok || !here.ok) throw new Error('not read');
    expect({ ...apart.value, bytes: apart.value.bytes.length }).toEqual({ ...here.value, bytes: here.value.bytes.length });
    expect(Buffer.compare(Buffer.from(apart.value.bytes), Buffer.from(ttf))).toBe(0);
    expect(await readFontApart()('none.ttf', new TextEncoder().encode('this is no font at all'))).toMatchObject({
      ok: false,
      error: { kind: 'fontNotRecognised' },
    });
  }, 60_000);
  it('outlives a file that would take for ever, and one that would take all memory', async () => {
    for (const code of ['for (;;) {}', 'const all = []; for (;;) all.push(new Array(1e6).fill(1.5));']) {
      const made = await readFontApart(child(code), 8000)('evil.ttf', ttf);
      expect(made).toMatchObject({ ok: false, error: { kind: 'fontUnreadable' } });
      if (!made.ok) expect(describeFontRefusal(made.error)).toBe('evil.ttf was not taken: reading it took too long or too much memory');
    }
  }, 60_000);
});
