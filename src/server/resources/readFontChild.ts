/** The process apart in which a font file is read: the file comes in, a line of JSON and the font's bytes go out. */
import { loadEngines } from './engines';
import { readFontHere, type ReadFontAnswer } from './readFont';

const parts: Buffer[] = [];
for await (const part of process.stdin) parts.push(part as Buffer);
const made = await readFontHere(await loadEngines())(process.argv[2] ?? 'font', new Uint8Array(Buffer.concat(parts)));
const { bytes, answer } = made.ok
  ? (({ bytes: own, ...value }) => ({ bytes: own, answer: { ok: true, value } satisfies ReadFontAnswer }))(made.value)
  : { bytes: new Uint8Array(0), answer: made satisfies ReadFontAnswer };
process.stdout.write(`${JSON.stringify(answer)}\n`);
process.stdout.end(bytes);
