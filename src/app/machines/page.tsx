import { listDamagedMachines, listMachines } from '../../server/crib';
import { readForPage } from '../../server/pageData';
import { ShopPage } from '../../ui/common/ShopPage';
import { MachinesPage } from '../../ui/shop/MachinesPage';

export const dynamic = 'force-dynamic';

export default function Page() {
  const read = readForPage((db) => ({ machines: listMachines(db), damaged: listDamagedMachines(db) }));
  return (
    <ShopPage here="/machines" failure={read.ok ? null : read.failure}>
      {read.ok && <MachinesPage machines={read.data.machines} damaged={read.data.damaged} />}
    </ShopPage>
  );
}
