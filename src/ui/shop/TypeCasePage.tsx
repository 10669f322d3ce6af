'use client';

interface CaseFont {
  id: string;
  family: string;
  style: string;
  kind: 'outline' | 'stroke';
  class: string;
  licence: string;
}

/** The fonts in the house. */
export function TypeCasePage({ fonts }: { fonts: readonly CaseFont[] }) {
  return (
    <>
      <h1 className="h4 mb-3">Type case</h1>
      <table className="list">
        <thead><tr><th>Family</th><th>Style</th><th>Class</th><th>Cut by</th></tr></thead>
        <tbody>
          {fonts.map((f) => (
            <tr key={f.id}><td>{f.family}</td><td>{f.style}</td><td>{f.class}</td><td>{f.kind === 'outline' ? 'V-carve' : 'centre-line'}</td></tr>
          ))}
        </tbody>
      </table>
      <p className="text-secondary mt-3">All of them ship with Hobel; their licences stand in the folder resources/licences. The Hershey fonts were originally created by Dr. A. V. Hershey while working at the U. S. National Bureau of Standards; the format of the font data was created by James Hurt, Cognition, Inc.</p>
    </>
  );
}
