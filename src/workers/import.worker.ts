import { cleanDrawing } from '../core/import/clean';
import { describeImportError, type ImportedDrawing } from '../core/import/drawing';
import { readDxf } from '../core/import/dxf';
import { readSvg } from '../core/import/svg';
import { describeMeridianImport, toMeridian } from '../core/import/meridian';
import type { ImportAnswer, ImportRequest, ProfileAnswer, ProfileRequest } from './protocol';
import { serve } from './serve';

/** Largest chord error of imported curves, mm. */
const TOLERANCE_MM = 0.002;

/** The drawing read last, so that other clean-up settings need not read it again. */
let last: { key: string; drawing: ImportedDrawing } | null = null;

serve<ImportRequest | ProfileRequest, ImportAnswer | ProfileAnswer, number>(async (request, { onProgress }) => {
  const { file, unitMm } = request;
  const key = `${file.name}|${file.size}|${file.lastModified}|${unitMm}`;
  if (last?.key !== key) {
    const text = await file.text();
    onProgress(0.1);
    const isDxf = /\.dxf$/i.test(file.name) || !text.trimStart().startsWith('<');
    const read = isDxf ? readDxf(text, unitMm, TOLERANCE_MM, onProgress) : readSvg(text, TOLERANCE_MM, onProgress);
    if (!read.ok) return { answer: { ok: false, text: describeImportError(read.error, file.name) } };
    last = { key, drawing: read.value };
  }
  if ('profile' in request) {
    const made = toMeridian(last.drawing);
    if (!made.ok) return { answer: { ok: false, text: describeMeridianImport(made.error, file.name) } };
    return { answer: { ok: true, nodes: made.value.nodes, notes: [...last.drawing.notes, ...made.value.notes] } };
  }
  const { layers, report } = cleanDrawing(last.drawing, request.options);
  if (layers.length === 0) {
    return {
      answer: {
        ok: false,
        text: describeImportError({ kind: 'empty', what: last.drawing.notes.join('; ') || 'there is no line in it' }, file.name),
      },
    };
  }
  return { answer: { ok: true, layers, report, notes: last.drawing.notes } };
});
