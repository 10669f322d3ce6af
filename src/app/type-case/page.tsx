import { readCatalog } from '../../server/resources/fonts';
import { PageHead } from '../../ui/common/PageHead';
import { TypeCasePage } from '../../ui/shop/TypeCasePage';

export const dynamic = 'force-dynamic';

export default function Page() {
  return (
    <>
      <PageHead here="/type-case" />
      <main className="page"><TypeCasePage fonts={readCatalog()} /></main>
    </>
  );
}
