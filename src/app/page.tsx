import { listJobs, type JobCard } from '../server/jobs';
import { openShop } from '../server/shop';
import { Shelf } from '../ui/shelf/Shelf';
import { PageHead } from '../ui/common/PageHead';
import { describeFailure } from '../server/answers';

export const dynamic = 'force-dynamic';

export default function ShelfPage() {
  let jobs: JobCard[] = [];
  let failure: string | null = null;
  try {
    jobs = listJobs(openShop());
  } catch (error) {
    failure = describeFailure(error);
  }
  return (
    <>
      <PageHead here="/" />
      <main className="page">{failure ? <p role="alert" className="text-danger">{failure}</p> : <Shelf jobs={jobs} />}</main>
    </>
  );
}
