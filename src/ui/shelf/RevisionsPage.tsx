'use client';

import { useState } from 'react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import Modal from 'react-bootstrap/Modal';
import { Button } from '../common/Button';

/** A revision with what it held, in words. */
export interface ShownRevision {
  revision: number;
  savedAt: number;
  hasPicture: boolean;
  words: string[];
  cuts: string[];
  blank: string;
  /** Whether the document can be read, and so be taken back. */
  readable: boolean;
}

const when = (ms: number): string =>
  new Date(ms).toLocaleString('en-GB', { day: 'numeric', month: 'short', year: 'numeric', hour: '2-digit', minute: '2-digit' });

/** What a job was at each save that is kept: to look at, and to take back. */
export function RevisionsPage({ id, name, revisions }: { id: string; name: string; revisions: readonly ShownRevision[] }) {
  const router = useRouter();
  const [looking, setLooking] = useState<ShownRevision | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const newest = revisions[0]?.revision ?? 0;
  const takeBack = async (revision: number) => {
    try {
      const answer = await fetch(`/api/jobs/${id}/revisions`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ revision, baseRevision: newest }),
      });
      if (answer.ok) return router.push(`/jobs/${id}`);
      const { text, remedy } = (await answer.json()) as { text: string; remedy?: string };
      setFailure([text, remedy].filter(Boolean).join('. '));
    } catch {
      setFailure('Hobel’s server does not answer; nothing was changed');
    }
    setLooking(null);
  };
  return (
    <>
      <div className="d-flex align-items-center gap-3 mb-3">
        <h1 className="h4 mb-0 flex-grow-1">Revisions of “{name}”</h1>
        <Link href={`/jobs/${id}`}>Back to the bench</Link>
      </div>
      {failure && (
        <p role="alert" className="text-danger">
          {failure}
        </p>
      )}
      <p className="text-secondary">
        Each save is a revision; of old ones every tenth is kept. One that is taken back becomes the newest, and those in between stay here.
      </p>
      <div className="shelf">
        {revisions.map((r) => (
          <div className="job" key={r.revision}>
            <button type="button" className="look text-reset" aria-label={`Look at revision ${r.revision}`} onClick={() => setLooking(r)}>
              <span className="picture">
                {r.hasPicture ? (
                  <RevisionPicture id={id} revision={r.revision} />
                ) : (
                  <span className="text-secondary">no picture was kept</span>
                )}
              </span>
              <span className="label">
                <strong>
                  Revision {r.revision}
                  {r.revision === newest ? ', newest' : ''}
                </strong>
                <small suppressHydrationWarning>{when(r.savedAt)}</small>
              </span>
            </button>
          </div>
        ))}
      </div>
      {looking && (
        <Modal show centered size="lg" onHide={() => setLooking(null)} aria-labelledby="revision-title">
          <Modal.Header closeButton>
            <Modal.Title id="revision-title" as="h2" className="h5">
              Revision {looking.revision}
            </Modal.Title>
          </Modal.Header>
          <Modal.Body>
            {looking.hasPicture && (
              <div className="revision-picture">
                <RevisionPicture id={id} revision={looking.revision} />
              </div>
            )}
            {looking.readable ? (
              <dl className="mb-0">
                <dt>Wording</dt>
                <dd>{looking.words.join(' · ') || 'none'}</dd>
                <dt>Blank</dt>
                <dd>{looking.blank}</dd>
                <dt>Cuts</dt>
                <dd>{looking.cuts.join(', ') || 'none'}</dd>
              </dl>
            ) : (
              <p className="mb-0">This revision cannot be read; it is kept as it is.</p>
            )}
          </Modal.Body>
          <Modal.Footer>
            <Button variant="outline-primary" onClick={() => setLooking(null)}>
              Leave it
            </Button>
            <Button disabled={!looking.readable || looking.revision === newest} onClick={() => void takeBack(looking.revision)}>
              Take it back
            </Button>
          </Modal.Footer>
        </Modal>
      )}
    </>
  );
}

function RevisionPicture({ id, revision }: { id: string; revision: number }) {
  return (
    // eslint-disable-next-line @next/next/no-img-element
    <img
      alt=""
      loading="lazy"
      style={{ width: '92%', height: '88%', objectFit: 'contain' }}
      src={`/api/jobs/${id}/revisions?picture=${revision}`}
    />
  );
}
