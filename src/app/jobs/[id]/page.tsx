import Link from 'next/link';
import { listMachines, listTools } from '../../../server/crib';
import { readJob } from '../../../server/jobs';
import { listFonts } from '../../../server/typeCase';
import { readForPage } from '../../../server/pageData';
import { Bench } from '../../../ui/bench/Bench';
import { PageHead } from '../../../ui/common/PageHead';

export const dynamic = 'force-dynamic';

function Trouble({ title, lines }: { title: string; lines: string[] }) {
  return (
    <>
      <PageHead here="" />
      <main className="page">
        <h1 className="h4">{title}</h1>
        {lines.map((line) => (
          <p key={line}>{line}</p>
        ))}
        <Link href="/">Back to the Shelf</Link>
      </main>
    </>
  );
}

export default async function JobPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const read = readForPage((db) => ({ found: readJob(db, id), crib: listTools(db), machines: listMachines(db), fonts: listFonts(db) }));
  if (!read.ok) return <Trouble title="The job cannot be opened" lines={[read.failure]} />;
  const { found, crib, machines, fonts } = read.data;
  if (!found.ok) {
    return found.error.kind === 'notFound' ? (
      <Trouble title="This job is not on the Shelf any more" lines={[]} />
    ) : (
      <Trouble
        title="The stored job cannot be opened; it is kept as it is"
        lines={found.error.problems.map((p) => `${p.path}: ${p.text}`)}
      />
    );
  }
  return <Bench id={id} revision={found.value.revision} job={found.value.job} crib={crib} machines={machines} fonts={fonts} />;
}
