'use client';

import Link from 'next/link';
import { ArrowArcLeftIcon, ArrowArcRightIcon } from '@phosphor-icons/react';
import { useStore } from 'zustand';
import { useBench, useJob } from '../state/benchStore';
import type { SaveState } from '../state/useSaving';

const WORDS: Record<SaveState['kind'], string> = { saved: 'Saved', saving: 'Saving…', failing: 'Not saved', conflict: 'Changed elsewhere' };

export function Masthead({ id, save }: { id: string; save: SaveState }) {
  const bench = useBench();
  const job = useJob();
  const past = useStore(bench.document.temporal, (s) => s.pastStates.length);
  const future = useStore(bench.document.temporal, (s) => s.futureStates.length);
  const { undo, redo } = bench.document.temporal.getState();
  return (
    <header className="masthead">
      <h1 className="visually-hidden">{job.name}</h1>
      <span className="brand">HOBEL</span>
      <Link href="/" prefetch={false}>
        Shelf
      </Link>
      <input
        className="job-name"
        aria-label="Name of the job"
        value={job.name}
        maxLength={120}
        onChange={(e) => bench.edit('name', (j) => ({ ...j, name: e.target.value || ' ' }))}
      />
      <button type="button" className="tool" onClick={() => undo()} disabled={past === 0} aria-label="Undo" title="Undo (Ctrl Z)">
        <ArrowArcLeftIcon size={18} />
      </button>
      <button type="button" className="tool" onClick={() => redo()} disabled={future === 0} aria-label="Redo" title="Redo (Ctrl Shift Z)">
        <ArrowArcRightIcon size={18} />
      </button>
      <span className={`saved${save.kind === 'failing' || save.kind === 'conflict' ? ' bad' : ''}`} role="status" data-testid="save-state">
        {WORDS[save.kind]}
        {save.kind === 'failing' ? `: ${save.text}` : ''}
      </span>
      <Link href={`/jobs/${id}/revisions`} prefetch={false} title="What this job was at earlier saves">
        Revisions
      </Link>
      <span className="flex-grow-1" />
      <Link href="/crib" prefetch={false}>
        Crib
      </Link>
      <Link href="/machines" prefetch={false}>
        Machines
      </Link>
      <Link href="/type-case" prefetch={false}>
        Type case
      </Link>
    </header>
  );
}
