import { getTitle } from '../../../../core/job/title';
import { describeBlank } from '../../../../core/job/blankText';
import { listRevisions, readJob, readRevision } from '../../../../server/jobs';
import { readForPage } from '../../../../server/pageData';
import { ShopPage } from '../../../../ui/common/ShopPage';
import { RevisionsPage, type ShownRevision } from '../../../../ui/shelf/RevisionsPage';

export const dynamic = 'force-dynamic';

/** The revisions of a job: what each held, to look at and to take back. */
export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const read = readForPage((db) => {
    const found = readJob(db, id);
    if (!found.ok && found.error.kind === 'notFound') return null;
    const shown = listRevisions(db, id).map((card): ShownRevision => {
      const made = readRevision(db, id, card.revision);
      if (!made.ok) return { ...card, words: [], cuts: [], blank: '', readable: false };
      const { inscriptions, cuts, blank } = made.value;
      return {
        ...card,
        words: inscriptions.map((i) => (i.kind === 'text' ? i.text.replace(/\n/g, ' / ') : getTitle(i))),
        cuts: cuts.filter((c) => c.enabled).map((c) => c.name),
        blank: describeBlank(blank, (mm) => String(Math.round(1000 * mm) / 1000), 'mm'),
        readable: true,
      };
    });
    return { name: found.ok ? found.value.job.name : 'a job that cannot be read', shown };
  });
  const gone = read.ok && read.data === null ? 'This job is not on the Shelf any more' : null;
  return (
    <ShopPage here="" failure={read.ok ? gone : read.failure}>
      {read.ok && read.data && <RevisionsPage id={id} name={read.data.name} revisions={read.data.shown} />}
    </ShopPage>
  );
}
