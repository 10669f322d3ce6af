/** npm run hunt -- --jobs N --seed S [--places P] [--edits E] [--save DIR]: draws jobs, judges them, and tells what came of it. */
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { huntOne, type Outcome } from './hunt';

const { values } = parseArgs({
  options: {
    jobs: { type: 'string', default: '24' },
    seed: { type: 'string', default: '1' },
    places: { type: 'string', default: '60' },
    edits: { type: 'string', default: '2' },
    save: { type: 'string' },
  },
});
const [jobs, first, places, edits] = [values.jobs, values.seed, values.places, values.edits].map(Number) as [
  number,
  number,
  number,
  number,
];

async function hunt(): Promise<void> {
  const table = new Map<string, Record<Outcome['status'], number>>();
  const sums = { edits: 0, seen: 0, wrong: 0 };
  for (let seed = first; seed < first + jobs; seed++) {
    let outcome: Outcome;
    try {
      outcome = await huntOne(seed, places, edits);
    } catch (error) {
      console.log(`THROWN ${seed}: ${(error as Error).stack ?? String(error)}`);
      continue;
    }
    const { drawn, status, codes, text, wrong, missed, ms } = outcome;
    for (const kind of new Set(drawn.kinds)) {
      const key = `${drawn.blank.padEnd(18)} ${kind.padEnd(12)}`;
      const row = table.get(key) ?? { released: 0, refused: 0, judged: 0, invalid: 0, empty: 0, large: 0 };
      row[status]++;
      table.set(key, row);
    }
    sums.edits += outcome.edits;
    sums.seen += outcome.seen;
    sums.wrong += wrong.length > 0 ? 1 : 0;
    console.log(`${status.padEnd(9)} ${drawn.name} (${(ms / 1000).toFixed(1)} s) ${codes.join()}`);
    if (status === 'judged') for (const t of text) console.log(`            ${t}`);
    for (const w of wrong.slice(0, 4)) console.log(`   WRONG    ${w}`);
    for (const m of missed) console.log(`   MISSED   ${m}`);
    if (values.save !== undefined && (status === 'judged' || wrong.length > 0 || missed.length > 0)) {
      mkdirSync(values.save, { recursive: true });
      writeFileSync(path.join(values.save, `hunt-${seed}.json`), `${JSON.stringify(drawn.job, null, 2)}\n`);
    }
  }
  console.log('\nblank              kind         released refused judged empty large invalid');
  for (const [key, r] of [...table].sort())
    console.log(`${key} ${[r.released, r.refused, r.judged, r.empty, r.large, r.invalid].map((v) => String(v).padStart(7)).join(' ')}`);
  console.log(`\njobs with places where rays say otherwise: ${sums.wrong}; edits that change the piece: ${sums.edits}, seen: ${sums.seen}`);
}

await hunt();
