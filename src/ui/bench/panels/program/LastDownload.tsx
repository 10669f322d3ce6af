'use client';

import { useEffect, useState } from 'react';
import { useParams } from 'next/navigation';
import { describeChanges, getDownloadFacts, type DownloadFacts } from '../../../../core/job/downloadFacts';
import { withoutStamp } from '../../../../core/program/stamp';
import type { PlanView } from '../../../../workers/planning.client';
import { Button } from '../../../common/Button';
import { useJob } from '../../../state/benchStore';
import { LateDifference } from './LateTexts';

interface Kept {
  savedAt: number;
  facts: DownloadFacts;
  files: { name: string; text: string }[];
}

/** The program that was downloaded last, and how to keep the one that leaves now. */
export function useLastDownload(plan: PlanView | null) {
  const job = useJob();
  const { id } = useParams<{ id: string }>();
  const [last, setLast] = useState<Kept | null>(null);
  useEffect(() => {
    let wanted = true;
    // Without it there is nothing to compare with, which is all that is lost.
    void fetch(`/api/jobs/${id}/download`, { cache: 'no-store' })
      .then(async (answer) => (answer.ok ? ((await answer.json()) as Kept | null) : null))
      .catch(() => null)
      .then((kept) => wanted && setLast(kept));
    return () => {
      wanted = false;
    };
  }, [id]);
  const keep = () => {
    const files = toFiles(plan!);
    const facts = getDownloadFacts(job);
    setLast({ savedAt: Date.now(), facts, files });
    void fetch(`/api/jobs/${id}/download`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ facts, files }),
    }).catch(() => null);
  };
  return { last, keep };
}

const toFiles = ({ program }: PlanView): Kept['files'] => program.parts.map(({ name, text }) => ({ name, text }));

/** All files one after the other, each under its name where there are several. */
const joinFiles = (files: Kept['files']): string =>
  files.length === 1 ? files[0]!.text : files.map((f) => `--- ${f.name}\n${f.text}`).join('\n');

/** What is other than in the program that left last: the text, line by line, the machine and the fonts. */
export function LastDownload({ plan, last }: { plan: PlanView; last: Kept | null }) {
  const job = useJob();
  const [shown, setShown] = useState(false);
  const now = joinFiles(toFiles(plan));
  const before = last ? joinFiles(last.files) : '';
  if (!last) return null;
  const changes = describeChanges(last.facts, getDownloadFacts(job));
  const isSame = withoutStamp(before) === withoutStamp(now);
  return (
    <section aria-label="Since the last download" className="mb-2">
      <p className="why mb-0">
        Downloaded last {new Date(last.savedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}:{' '}
        {isSame ? 'the program is the same.' : 'the program is another now.'}
        {changes.length > 0 && ` Changed since: ${changes.join(', ')}.`}{' '}
        {!isSame && (
          <Button size="sm" variant="link" className="p-0 align-baseline" aria-expanded={shown} onClick={() => setShown(!shown)}>
            {shown ? 'Hide the difference' : 'Show the difference'}
          </Button>
        )}
      </p>
      {shown && !isSame && <LateDifference before={before} now={now} />}
    </section>
  );
}
