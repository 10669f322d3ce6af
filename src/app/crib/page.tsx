import { describeFailure } from '../../server/answers';
import { listTools } from '../../server/crib';
import { openShop } from '../../server/shop';
import { PageHead } from '../../ui/common/PageHead';
import { CribPage } from '../../ui/shop/CribPage';

export const dynamic = 'force-dynamic';

export default function Page() {
  let content: React.ReactNode;
  try {
    content = <CribPage tools={listTools(openShop())} />;
  } catch (error) {
    content = <p role="alert" className="text-danger">{describeFailure(error)}</p>;
  }
  return (
    <>
      <PageHead here="/crib" />
      <main className="page">{content}</main>
    </>
  );
}
