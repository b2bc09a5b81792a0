-- What a swept receiver found that was carried on a walk: a look a row.
CREATE TABLE swept (
  project_id text NOT NULL REFERENCES project(id) ON DELETE CASCADE,
  walk_id text NOT NULL,
  seq bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  leg integer NOT NULL,
  t_ms double precision NOT NULL,
  band text NOT NULL,
  channels jsonb NOT NULL,
  signals jsonb NOT NULL
);
CREATE INDEX swept_by_walk ON swept (project_id, walk_id, t_ms, seq);
