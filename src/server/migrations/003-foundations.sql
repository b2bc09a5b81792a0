-- Record versions, who points at whom, authors, stored summaries, withdrawals with ids; the simulated site leaves the document.
ALTER TABLE design_record ADD COLUMN version integer NOT NULL DEFAULT 1;
ALTER TABLE step ADD COLUMN author text;
ALTER TABLE step ADD COLUMN versions jsonb NOT NULL DEFAULT '{}';

-- What the simulated receiver may ask and nobody else sees; by floor.
CREATE TABLE site (
  project_id text NOT NULL REFERENCES project(id) ON DELETE CASCADE,
  floor_id text NOT NULL,
  body jsonb NOT NULL,
  PRIMARY KEY (project_id, floor_id)
);
INSERT INTO site (project_id, floor_id, body)
  SELECT DISTINCT ON (project_id, body->>'floorId') project_id, body->>'floorId', body - 'id' - 'floorId'
  FROM design_record WHERE kind = 'sites' ORDER BY project_id, body->>'floorId', id;
DELETE FROM design_record WHERE kind = 'sites';
UPDATE step SET changes = coalesce((SELECT jsonb_agg(c) FROM jsonb_array_elements(changes) c WHERE c->>'table' <> 'sites'), '[]')
  WHERE changes @> '[{"table": "sites"}]';

-- Which record points at which: a step looks up what it touches, and nothing else.
CREATE TABLE design_pointer (
  project_id text NOT NULL REFERENCES project(id) ON DELETE CASCADE,
  kind text NOT NULL,
  id text NOT NULL,
  field text NOT NULL,
  parent_kind text NOT NULL,
  parent_id text NOT NULL,
  PRIMARY KEY (project_id, kind, id, field)
);
CREATE INDEX design_pointer_by_parent ON design_pointer (project_id, parent_kind, parent_id);
INSERT INTO design_pointer (project_id, kind, id, field, parent_kind, parent_id)
  SELECT r.project_id, r.kind, r.id, p.field, p.parent_kind, r.body->>p.field
  FROM design_record r
  JOIN (VALUES ('floorId', 'floors'), ('variantId', 'variants'), ('wallId', 'walls')) AS p(field, parent_kind) ON r.body ? p.field;

-- The home page reads summaries; one that is older than its project's revision is made anew when it is asked for.
ALTER TABLE project ADD COLUMN name text NOT NULL DEFAULT 'Unnamed';
ALTER TABLE project ADD COLUMN summary jsonb;
ALTER TABLE project ADD COLUMN summary_revision integer NOT NULL DEFAULT -1;
UPDATE project SET name = r.body->>'name' FROM design_record r WHERE r.project_id = project.id AND r.kind = 'project' AND r.body ? 'name';
CREATE INDEX project_by_change ON project (changed_at DESC, id DESC) WHERE deleted_at IS NULL;

-- Taking samples back twice takes them back once.
CREATE TABLE withdrawal (
  project_id text NOT NULL REFERENCES project(id) ON DELETE CASCADE,
  walk_id text NOT NULL,
  withdrawal_id text NOT NULL,
  PRIMARY KEY (project_id, walk_id, withdrawal_id)
);

-- Walks that have samples but no record any more, and since when: undo may bring them back for a while.
CREATE TABLE walk_gone (
  project_id text NOT NULL REFERENCES project(id) ON DELETE CASCADE,
  walk_id text NOT NULL,
  since timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (project_id, walk_id)
);
