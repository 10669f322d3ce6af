import { blob, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';

/** One row a job. `document` is the job as JSON of version `JOB_VERSION`; `revision` counts its saves. */
export const jobs = sqliteTable('jobs', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  revision: integer('revision').notNull(),
  document: text('document').notNull(),
  /** The unrolled lettering as SVG path data in a viewBox, for the Shelf; derived, may be empty. */
  preview: text('preview').notNull().default(''),
  createdAt: integer('created_at').notNull(),
  updatedAt: integer('updated_at').notNull(),
});

/** Earlier documents of a job, newest kept in full, older ones thinned. */
export const revisions = sqliteTable(
  'revisions',
  {
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    revision: integer('revision').notNull(),
    document: text('document').notNull(),
    /** As the job's own; empty for what was saved before pictures were kept. */
    preview: text('preview').notNull().default(''),
    savedAt: integer('saved_at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.jobId, t.revision] })],
);

/** The crib. `document` is a tool as JSON. */
export const tools = sqliteTable('tools', {
  id: text('id').primaryKey(),
  document: text('document').notNull(),
  position: integer('position').notNull(),
});

export const machines = sqliteTable('machines', {
  id: text('id').primaryKey(),
  document: text('document').notNull(),
  position: integer('position').notNull(),
});

/** The type case: shipped fonts by file name, uploaded ones with their bytes. */
export const fonts = sqliteTable('fonts', {
  id: text('id').primaryKey(),
  family: text('family').notNull(),
  style: text('style').notNull(),
  kind: text('kind', { enum: ['outline', 'stroke'] }).notNull(),
  sha256: text('sha256').notNull(),
  file: text('file'),
  bytes: blob('bytes', { mode: 'buffer' }),
  addedAt: integer('added_at').notNull(),
});

/** Free shapes, healed and packed (`core/shape/readShape.ts`), by the SHA-256 of their bytes. */
export const shapes = sqliteTable('shapes', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  triangles: integer('triangles').notNull(),
  bytes: blob('bytes', { mode: 'buffer' }).notNull(),
  addedAt: integer('added_at').notNull(),
});

/** The program of a job that was downloaded last: its files, deflated, and what it depended on besides the lettering, as JSON. */
export const downloads = sqliteTable('downloads', {
  jobId: text('job_id')
    .primaryKey()
    .references(() => jobs.id, { onDelete: 'cascade' }),
  savedAt: integer('saved_at').notNull(),
  facts: text('facts').notNull(),
  files: blob('files', { mode: 'buffer' }).notNull(),
});
