import { listDamagedTools, listMachines, listTools } from '../../server/crib';
import { readForPage } from '../../server/pageData';
import { ShopPage } from '../../ui/common/ShopPage';
import { CribPage } from '../../ui/shop/CribPage';

export const dynamic = 'force-dynamic';

export default function Page() {
  const read = readForPage((db) => ({
    tools: listTools(db),
    damaged: listDamagedTools(db),
    machines: listMachines(db),
  }));
  return (
    <ShopPage here="/crib" failure={read.ok ? null : read.failure}>
      {read.ok && <CribPage tools={read.data.tools} damaged={read.data.damaged} machines={read.data.machines} />}
    </ShopPage>
  );
}
