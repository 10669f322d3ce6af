import Link from 'next/link';

const PAGES = [
  ['/', 'Shelf'],
  ['/crib', 'Crib'],
  ['/machines', 'Machines'],
  ['/type-case', 'Type case'],
] as const;

/** The head of the pages around the bench. */
export function PageHead({ here }: { here: string }) {
  return (
    <header className="masthead">
      <span className="brand">HOBEL</span>
      {PAGES.map(([href, name]) => (
        <Link key={href} href={href} className={href === here ? 'here' : undefined} aria-current={href === here ? 'page' : undefined}>
          {name}
        </Link>
      ))}
    </header>
  );
}
