import type { DepthField } from '../removal/field';
import type { Intent, Layer } from './intent';
import type { Fault } from './verdict';

/** Places of a letter's box each way that are looked at, and how many of them in its shape are enough to tell. */
const PLACES = 32;
const LEAST_PLACES = 4;
/** Less is as good as not cut, mm. */
const CUT_MM = 0.01;

/**
 * Letters of which nothing comes although a cut fills them: none of its cutters goes in. What is left of others is named by their cut.
 * O(letters · places · segments near).
 */
export function findMissingLetters(intent: Intent, field: Pick<DepthField, 'depthAt'>): Fault[] {
  const faults: Fault[] = [];
  const told = new Set<object>();
  for (const layer of intent.layers) {
    const { outlines, run, arts } = layer;
    if (!outlines || !fills(layer)) continue;
    const above = layer.meaning.form === 'roof' ? layer.meaning.sunkMm : 0;
    for (const art of arts) {
      for (const letter of art.letters) {
        const { minX, maxX, minY, maxY } = letter.box;
        if (told.has(letter) || !(maxX > minX && maxY > minY)) continue;
        let inside = 0,
          isCut = false;
        for (let i = 0; i < PLACES ** 2 && !isCut; i++) {
          const x = minX + (((i % PLACES) + 0.5) / PLACES) * (maxX - minX),
            y = minY + ((Math.floor(i / PLACES) + 0.5) / PLACES) * (maxY - minY);
          if (!outlines.isInside(x, y)) continue;
          inside++;
          isCut = field.depthAt(x, y) > above + CUT_MM;
        }
        if (isCut || inside < LEAST_PLACES) continue;
        told.add(letter);
        const at: [number, number] = [(minX + maxX) / 2, (minY + maxY) / 2];
        const areaMm2 = (inside / PLACES ** 2) * (maxX - minX) * (maxY - minY);
        faults.push({ kind: 'missing', run, letter: letter.char, at, depthMm: 0, wantedMm: layer.deepestMm, areaMm2, motion: -1 });
      }
    }
  }
  return faults;
}

/** Whether what a layer cuts is the letters themselves, not what lies round them or beside them. */
const fills = ({ form, run, arts }: Layer): boolean =>
  (form === 'area' || form === 'roof' || form === 'middle') && run.cut.kind !== 'raised' && arts.length > 0;
