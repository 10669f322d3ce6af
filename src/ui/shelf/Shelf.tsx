'use client';

import { useState } from 'react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { ClockCounterClockwiseIcon, DownloadSimpleIcon, PlusIcon, TrashIcon, UploadSimpleIcon } from '@phosphor-icons/react';
import Modal from 'react-bootstrap/Modal';
import { createJob } from '../../core/job/defaults';
import { parseJobText } from '../../core/job/parse';
import { Button } from '../common/Button';
import { FileButton } from '../common/FileButton';
import { ShelfPicture } from './ShelfPicture';

export interface ShelfJob {
  id: string;
  name: string;
  revision: number;
  updatedAt: number;
  preview: string;
}

/** Largest job file taken from disk, bytes. */
const MAX_FILE_BYTES = 8 * 1024 * 1024;

/** The jobs, a picture each. */
export function Shelf({ jobs }: { jobs: readonly ShelfJob[] }) {
  const router = useRouter();
  const [failure, setFailure] = useState<string[]>([]);
  const [removing, setRemoving] = useState<ShelfJob | null>(null);

  const store = async (job: unknown) => {
    try {
      const answer = await fetch('/api/jobs', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(job),
      });
      const body = (await answer.json()) as { id?: string; text?: string; remedy?: string };
      if (answer.ok && body.id) router.push(`/jobs/${body.id}`);
      else setFailure([[body.text, body.remedy].filter(Boolean).join('. ')]);
    } catch {
      setFailure(['Hobel’s server does not answer']);
    }
  };
  const open = async (chosen: File) => {
    if (chosen.size > MAX_FILE_BYTES) {
      setFailure([
        `${chosen.name} is ${(chosen.size / 1024 / 1024).toFixed(1)} MB; a job file has at most ${MAX_FILE_BYTES / 1024 / 1024} MB`,
      ]);
      return;
    }
    const parsed = parseJobText(await chosen.text());
    if (parsed.ok) await store(parsed.value);
    else setFailure(parsed.error.problems.slice(0, 6).map((p) => `${chosen.name}: ${p.path} ${p.text}`));
  };
  const remove = async (job: ShelfJob) => {
    setRemoving(null);
    const answer = await fetch(`/api/jobs/${job.id}`, { method: 'DELETE' });
    if (answer.ok) router.refresh();
    else setFailure([((await answer.json()) as { text: string }).text]);
  };
  return (
    <>
      <div className="d-flex gap-2 align-items-center mb-3">
        <h1 className="h4 mb-0 flex-grow-1">Shelf</h1>
        <FileButton variant="outline-primary" accept=".json,application/json" label="Job file" onFiles={([f]) => void open(f!)}>
          <UploadSimpleIcon size={15} /> Open a job file
        </FileButton>
        <Button onClick={() => void store(createJob('New job'))}>
          <PlusIcon size={15} /> New job
        </Button>
      </div>
      {failure.length > 0 && (
        <div role="alert" className="text-danger mb-3">
          {failure.map((f) => (
            <div key={f}>{f}</div>
          ))}
        </div>
      )}
      {jobs.length === 0 && <p className="empty">The Shelf is empty. Start a new job, or open a job file.</p>}
      <div className="shelf">
        {jobs.map((job) => (
          <div key={job.id} className="job">
            <Link href={`/jobs/${job.id}`} className="text-reset" aria-label={`Open ${job.name}`}>
              <div className="picture">
                {job.preview ? <ShelfPicture svg={job.preview} /> : <span className="text-secondary">open it to see it here</span>}
              </div>
              <div className="label">
                <strong>{job.name}</strong>
                <small suppressHydrationWarning>
                  {new Date(job.updatedAt).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })}, rev. {job.revision}
                </small>
              </div>
            </Link>
            <div className="position-absolute d-flex gap-1" style={{ right: 6, top: 6 }}>
              <Link
                className="remove position-static"
                href={`/jobs/${job.id}/revisions`}
                aria-label={`Revisions of ${job.name}`}
                title="Earlier revisions"
              >
                <ClockCounterClockwiseIcon size={15} />
              </Link>
              <a className="remove position-static" href={`/api/jobs/${job.id}/file`} download aria-label={`Save ${job.name} as a file`}>
                <DownloadSimpleIcon size={15} />
              </a>
              <button type="button" className="remove position-static" aria-label={`Remove ${job.name}`} onClick={() => setRemoving(job)}>
                <TrashIcon size={15} />
              </button>
            </div>
          </div>
        ))}
      </div>
      <Modal show={removing !== null} centered onHide={() => setRemoving(null)} aria-labelledby="remove-title">
        <Modal.Header closeButton>
          <Modal.Title id="remove-title" as="h2" className="h5">
            Remove “{removing?.name}”?
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          The job and its {removing?.revision} revision{removing?.revision === 1 ? '' : 's'} leave the Shelf for good.
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={() => setRemoving(null)}>
            Keep it
          </Button>
          <Button variant="danger" onClick={() => removing && void remove(removing)}>
            Remove it
          </Button>
        </Modal.Footer>
      </Modal>
    </>
  );
}
