import { err, ok, type Result } from '../base/result';
import { MAX_TRIANGLES, type ShapeError, type ShapeProgress, type TriangleSoup } from './heal';

/**
 * Reads the `v` and `f` lines of a Wavefront OBJ; faces with more corners are cut into triangles from their first, negative
 * indices count from the end. Source: the format's own description, appendix B1 of the Advanced Visualizer manual (from memory).
 */
export function readObj(text: string, onProgress: ShapeProgress = () => undefined): Result<TriangleSoup, ShapeError> {
  const vertices: number[] = [];
  const corners: number[] = [];
  let line = 0;
  let from = 0;
  let joined = '';
  while (from < text.length) {
    let to = text.indexOf('\n', from);
    if (to < 0) to = text.length;
    let row = joined + text.slice(from, to).trim();
    joined = '';
    from = to + 1;
    line++;
    if ((line & 0xffff) === 0) onProgress(from / text.length);
    if (row.endsWith('\\')) {
      joined = `${row.slice(0, -1)} `;
      continue;
    }
    const hash = row.indexOf('#');
    if (hash >= 0) row = row.slice(0, hash);
    const words = row.split(/\s+/);
    if (words[0] === 'v') {
      const p = [Number(words[1]), Number(words[2]), Number(words[3])];
      if (words.length < 4 || !p.every(Number.isFinite))
        return err({ kind: 'notReadable', what: `line ${line} has a vertex without three numbers` });
      vertices.push(...p);
    } else if (words[0] === 'f') {
      const face: number[] = [];
      for (const word of words.slice(1).filter(Boolean)) {
        const index = Number(word.split('/')[0]);
        const v = index < 0 ? vertices.length / 3 + index : index - 1;
        if (!Number.isInteger(index) || v < 0 || 3 * v >= vertices.length)
          return err({ kind: 'notReadable', what: `line ${line} has a face with a vertex "${word}" that is not there` });
        face.push(v);
      }
      if (face.length < 3) return err({ kind: 'notReadable', what: `line ${line} has a face with fewer than three corners` });
      for (let k = 1; k + 1 < face.length; k++)
        for (const v of [face[0]!, face[k]!, face[k + 1]!]) corners.push(vertices[3 * v]!, vertices[3 * v + 1]!, vertices[3 * v + 2]!);
      if (corners.length > 9 * MAX_TRIANGLES) return err({ kind: 'tooMany', count: corners.length / 9 });
    }
  }
  if (corners.length === 0)
    return err({ kind: 'empty', what: vertices.length ? 'it has vertices and no face' : 'it has neither vertices nor faces' });
  return ok({ corners: Float64Array.from(corners) });
}
