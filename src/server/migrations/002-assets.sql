-- Files that belong to a project: plan images, photos. Type and size are found from the content when they come in.
CREATE TABLE asset (
  project_id text NOT NULL REFERENCES project(id) ON DELETE CASCADE,
  id text NOT NULL,
  media_type text NOT NULL,
  bytes bytea NOT NULL,
  width_px integer,
  height_px integer,
  created_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (project_id, id)
);
