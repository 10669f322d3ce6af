import { describeFailure } from '../../server/answers';
import { listMachines } from '../../server/crib';
import { openShop } from '../../server/shop';
import { PageHead } from '../../ui/common/PageHead';
import { MachinesPage } from '../../ui/shop/MachinesPage';

export const dynamic = 'force-dynamic';

export default function Page() {
  let content: React.ReactNode;
  try {
    content = <MachinesPage machines={listMachines(openShop())} />;
  } catch (error) {
    content = <p role="alert" className="text-danger">{describeFailure(error)}</p>;
  }
  return (
    <>
      <PageHead here="/machines" />
      <main className="page">{content}</main>
    </>
  );
}
