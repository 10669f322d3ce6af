/** The stored picture as an image, so that nothing in it can run. */
export function ShelfPicture({ svg }: { svg: string }) {
  // eslint-disable-next-line @next/next/no-img-element
  return <img alt="" style={{ width: '92%', height: '88%', objectFit: 'contain' }} src={`data:image/svg+xml,${encodeURIComponent(svg)}`} />;
}
