import { readCatalog } from '../../server/resources/fonts';
import { ShopPage } from '../../ui/common/ShopPage';
import { TypeCasePage } from '../../ui/shop/TypeCasePage';

export const dynamic = 'force-dynamic';

export default function Page() {
  return <ShopPage here="/type-case" failure={null}><TypeCasePage fonts={readCatalog()} /></ShopPage>;
}
