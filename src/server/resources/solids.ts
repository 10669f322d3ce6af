import type { SolidKit } from '../../core/export/wholeSolid';

/** Booleans of solids; their module is found beside the package. */
export async function loadSolidKit(): Promise<SolidKit> {
  const { default: create } = await import('manifold-3d');
  const kit = await create();
  kit.setup();
  return kit;
}
