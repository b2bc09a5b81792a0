-- When the receiver listened to what on a walk: without it nothing follows from not hearing somebody.
CREATE TABLE scan (
  project_id text NOT NULL REFERENCES project(id) ON DELETE CASCADE,
  walk_id text NOT NULL,
  seq bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  leg integer NOT NULL,
  from_ms double precision NOT NULL,
  to_ms double precision NOT NULL,
  dwell_ms double precision NOT NULL,
  channels jsonb NOT NULL,
  ssid text NOT NULL
);
CREATE INDEX scan_by_walk ON scan (project_id, walk_id, from_ms, seq);
