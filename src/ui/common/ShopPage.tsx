import { PageHead } from './PageHead';

/** A page around the bench: its head, and its content or why there is none. */
export function ShopPage({ here, failure, children }: { here: string; failure: string | null; children: React.ReactNode }) {
  return (
    <>
      <PageHead here={here} />
      <main className="page">
        {failure ? (
          <p role="alert" className="text-danger">
            {failure}
          </p>
        ) : (
          children
        )}
      </main>
    </>
  );
}
