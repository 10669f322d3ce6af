import { strToU8, zipSync } from 'fflate';
import type { Triangles } from './patchSolid';

const TYPES = `<?xml version="1.0" encoding="UTF-8"?>
<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>`;
const RELATIONS = `<?xml version="1.0" encoding="UTF-8"?>
<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>`;
/** Lines joined at a time: a string of all at once would be too long. */
const CHUNK = 20_000;

/** A solid as 3MF (3MF Core Specification 1.2, from memory): a package with one model, in millimetres. */
export function to3mf({ positions, triangles }: Triangles): Uint8Array {
  const parts: Uint8Array[] = [];
  const put = (text: string) => parts.push(strToU8(text));
  put(
    '<?xml version="1.0" encoding="UTF-8"?>\n<model unit="millimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources><object id="1" type="model"><mesh><vertices>',
  );
  const list = (count: number, word: (k: number) => string) => {
    for (let k = 0; k < count; k += CHUNK) put(Array.from({ length: Math.min(CHUNK, count - k) }, (_, i) => word(k + i)).join(''));
  };
  const f = (v: number) => String(Math.round(v * 1e5) / 1e5);
  list(
    positions.length / 3,
    (k) => `<vertex x="${f(positions[3 * k]!)}" y="${f(positions[3 * k + 1]!)}" z="${f(positions[3 * k + 2]!)}"/>`,
  );
  put('</vertices><triangles>');
  list(triangles.length / 3, (k) => `<triangle v1="${triangles[3 * k]!}" v2="${triangles[3 * k + 1]!}" v3="${triangles[3 * k + 2]!}"/>`);
  put('</triangles></mesh></object></resources><build><item objectid="1"/></build></model>');
  const model = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const part of parts) {
    model.set(part, at);
    at += part.length;
  }
  return zipSync({ '[Content_Types].xml': strToU8(TYPES), '_rels/.rels': strToU8(RELATIONS), '3D/3dmodel.model': model }, { level: 6 });
}
