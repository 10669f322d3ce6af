import { listJobs } from '../server/jobs';
import { readForPage } from '../server/pageData';
import { ShopPage } from '../ui/common/ShopPage';
import { Shelf } from '../ui/shelf/Shelf';

export const dynamic = 'force-dynamic';

export default function ShelfPage() {
  const read = readForPage(listJobs);
  return (
    <ShopPage here="/" failure={read.ok ? null : read.failure}>
      {read.ok && <Shelf jobs={read.data} />}
    </ShopPage>
  );
}
