-- Projects, their records, the log of steps, and what was measured.
CREATE TABLE project (
  id text PRIMARY KEY,
  revision integer NOT NULL DEFAULT 0,
  created_at timestamptz NOT NULL DEFAULT now(),
  changed_at timestamptz NOT NULL DEFAULT now(),
  deleted_at timestamptz
);

-- One row per record of the design. The body is the record as the core knows it; the server never looks inside with SQL.
CREATE TABLE design_record (
  project_id text NOT NULL REFERENCES project(id) ON DELETE CASCADE,
  kind text NOT NULL,
  id text NOT NULL,
  body jsonb NOT NULL,
  PRIMARY KEY (project_id, kind, id)
);

-- Every edit ever acknowledged, in order. Ids make sending a step twice harmless.
CREATE TABLE step (
  project_id text NOT NULL REFERENCES project(id) ON DELETE CASCADE,
  revision integer NOT NULL,
  id text NOT NULL,
  title text NOT NULL,
  kind text NOT NULL CHECK (kind IN ('do', 'undo', 'redo')),
  of_step_id text,
  changes jsonb NOT NULL,
  conflicts jsonb NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (project_id, revision),
  UNIQUE (project_id, id)
);

-- Beacons heard on walks, and the batches they came in.
CREATE TABLE sample_batch (
  project_id text NOT NULL REFERENCES project(id) ON DELETE CASCADE,
  walk_id text NOT NULL,
  batch_id text NOT NULL,
  PRIMARY KEY (project_id, walk_id, batch_id)
);
CREATE TABLE sample (
  project_id text NOT NULL REFERENCES project(id) ON DELETE CASCADE,
  walk_id text NOT NULL,
  seq bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  leg integer NOT NULL,
  t_ms double precision NOT NULL,
  x_m double precision NOT NULL,
  y_m double precision NOT NULL,
  bssid text NOT NULL,
  ssid text NOT NULL,
  ap_id text,
  band text NOT NULL,
  channel integer NOT NULL,
  width_mhz integer NOT NULL,
  rssi_dbm integer NOT NULL
);
CREATE INDEX sample_by_walk ON sample (project_id, walk_id, t_ms, seq);
