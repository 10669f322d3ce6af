'use client';

import { useState } from 'react';
import { Button } from '../common/Button';

/** Entries of the shop that cannot be read: set aside, so that the others can be used, and named. */
export function DamagedRows({ url, rows }: { url: string; rows: readonly { id: string; what: string }[] }) {
  const [left, setLeft] = useState(rows);
  const [failure, setFailure] = useState<string | null>(null);
  if (left.length === 0) return null;
  const remove = async (id: string) => {
    try {
      const answer = await fetch(`${url}?id=${encodeURIComponent(id)}`, { method: 'DELETE' });
      if (answer.ok) setLeft((l) => l.filter((r) => r.id !== id));
      else setFailure(((await answer.json()) as { text?: string }).text ?? 'It could not be removed');
    } catch {
      setFailure('Hobel’s server does not answer; nothing was changed');
    }
  };
  return (
    <section role="alert" className="damaged mb-3" aria-label="Damaged entries">
      <p className="mb-1">
        {left.length === 1 ? 'One entry cannot be read and is' : `${left.length} entries cannot be read and are`} set aside; the others work
        as ever.
      </p>
      <ul className="mb-0">
        {left.map((row) => (
          <li key={row.id}>
            <code>{row.id}</code>: {row.what}{' '}
            <Button variant="link" size="sm" className="p-0" onClick={() => void remove(row.id)}>
              Remove it
            </Button>
          </li>
        ))}
      </ul>
      {failure && <p className="text-danger mb-0">{failure}</p>}
    </section>
  );
}
