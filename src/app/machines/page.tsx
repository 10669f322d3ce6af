import { listMachines } from '../../server/crib';
import { readForPage } from '../../server/pageData';
import { ShopPage } from '../../ui/common/ShopPage';
import { MachinesPage } from '../../ui/shop/MachinesPage';

export const dynamic = 'force-dynamic';

export default function Page() {
  const read = readForPage(listMachines);
  return (
    <ShopPage here="/machines" failure={read.ok ? null : read.failure}>
      {read.ok && <MachinesPage machines={read.data} />}
    </ShopPage>
  );
}
