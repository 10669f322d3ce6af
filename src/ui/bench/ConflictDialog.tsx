'use client';

import Modal from 'react-bootstrap/Modal';
import type { Job } from '../../core/job/schema';
import { getTitle } from '../../core/job/title';
import { Button } from '../common/Button';
import { useJob } from '../state/benchStore';

interface Theirs {
  revision: number;
  job: Job;
}

/** Two pages changed one job. Nothing is written until the person says which stays. */
export function ConflictDialog({ theirs, onKeep }: { theirs: Theirs; onKeep(keep: 'mine' | 'theirs', theirs: Theirs): void }) {
  const mine = useJob();
  const wording = (job: Job) =>
    job.inscriptions.map((i) => (i.kind === 'text' ? i.text.replace(/\n/g, ' / ') : getTitle(i))).join(' · ') || 'no lettering';
  return (
    <Modal show centered backdrop="static" keyboard={false} aria-labelledby="conflict-title">
      <Modal.Header>
        <Modal.Title id="conflict-title" as="h2" className="h5">
          This job was also changed on another page
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>
          Your changes are not saved yet. Keep one of the two; the other page&rsquo;s stays among the job&rsquo;s revisions, and this
          page&rsquo;s in its undo.
        </p>
        <dl className="mb-0">
          <dt>On this page</dt>
          <dd>{wording(mine)}</dd>
          <dt>Saved from the other page (revision {theirs.revision})</dt>
          <dd>{wording(theirs.job)}</dd>
        </dl>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={() => onKeep('theirs', theirs)}>
          Take the other page&rsquo;s
        </Button>
        <Button variant="primary" onClick={() => onKeep('mine', theirs)}>
          Keep this page&rsquo;s
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
