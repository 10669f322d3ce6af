import { readForPage } from '../../server/pageData';
import { listFonts } from '../../server/typeCase';
import { ShopPage } from '../../ui/common/ShopPage';
import { TypeCasePage } from '../../ui/shop/TypeCasePage';

export const dynamic = 'force-dynamic';

export default function Page() {
  const read = readForPage(listFonts);
  return (
    <ShopPage here="/type-case" failure={read.ok ? null : read.failure}>
      {read.ok && <TypeCasePage fonts={read.data} />}
    </ShopPage>
  );
}
