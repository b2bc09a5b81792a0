'use client';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import InputBase from '@mui/material/InputBase';
import Snackbar from '@mui/material/Snackbar';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useState } from 'react';
import { UpperRoomError } from '@/core/errors';
import type { PlanPicture, ProjectPage, ProjectSummary } from '@/contract/http';
import { PROJECT_FILE_ENDING } from '@/contract/projectFile';
import { boundsOf } from '@/core/geometry/polygon';
import { DOMAINS, type DomainId } from '@/core/radio/regulation';
import type { UnitSystem } from '@/core/units/length';
import { mFromFt } from '@/core/units/length';
import { FileButton } from '../kit/FileButton';
import { NumberField, SelectField, TextField } from '../inspector/fields';
import { api, projectFileUrl } from '../state/api';
import { wordsOf } from '../state/notices';
import './home.css';
import { localMinute } from '../state/time';

const UNDO_MS = 10_000;

/** All projects with small plan pictures; new, open, duplicate, delete. */
export function Home() {
  const router = useRouter();
  const [page, setPage] = useState<ProjectPage | null>(null);
  const [find, setFind] = useState('');
  const projects = page?.projects ?? null;
  const [problem, setProblem] = useState<string | null>(null);
  const [asking, setAsking] = useState<ProjectSummary | null>(null);
  const [deleted, setDeleted] = useState<ProjectSummary | null>(null);
  const [creating, setCreating] = useState(false);

  const attempt = useCallback(async (work: () => Promise<void>) => {
    try {
      await work();
      setProblem(null);
    } catch (error) {
      if (!(error instanceof UpperRoomError)) throw error;
      setProblem(wordsOf(error));
    }
  }, []);
  const [bringing, setBringing] = useState(false);
  const bringIn = async (file: File) => {
    setBringing(true);
    await attempt(async () => router.push(`/projects/${(await api.postProjectFile(file)).id}`));
    setBringing(false);
  };
  const refresh = useCallback(() => attempt(async () => setPage(await api.listProjects(find, null))), [attempt, find]);
  const more = () =>
    attempt(async () => {
      if (page === null || page.next === null) return;
      const next = await api.listProjects(find, page.next);
      const known = new Set(page.projects.map(({ id }) => id));
      // Only onto the page it was asked for: another search may have come between.
      setPage((now) => (now === page ? { ...next, projects: [...page.projects, ...next.projects.filter(({ id }) => !known.has(id))] } : now));
    });
  useEffect(() => {
    let current = true;
    api.listProjects(find, null).then(
      (list) => current && setPage(list),
      (error: unknown) => {
        if (!(error instanceof UpperRoomError)) throw error;
        if (current) setProblem(wordsOf(error));
      },
    );
    return () => void (current = false);
  }, [find]);
  useEffect(() => {
    if (deleted === null) return;
    const timer = setTimeout(() => setDeleted(null), UNDO_MS);
    return () => clearTimeout(timer);
  }, [deleted]);

  return (
    <main className="home">
      <header>
        <h1 className="serif">Upper Room</h1>
        <span className="quiet">A workbench for wireless engineers</span>
        <span className="spread" />
        <FileButton label="Project file" accept={`.${PROJECT_FILE_ENDING}`} disabled={bringing} small={false} onFile={(file) => void bringIn(file)}>
          {bringing ? 'Reading the file …' : 'Bring in a project file…'}
        </FileButton>
        <Button variant="contained" onClick={() => setCreating(true)}>
          New project
        </Button>
      </header>
      {projects?.some(({ id }) => id === 'quillhaven' || id === 'cottage') && (
        <p className="intro">
          Two buildings are here to try. The museum has a design to retune, an older one as found, and a finished walk through it; the cottage is a
          five-minute start.
          <br />
          Open the museum and point at the plan: the readout tells what is heard there. “Retune…” plans channels and powers, Survey walks.
          <br />
          For a building of your own begin with “New project”.
        </p>
      )}
      {problem !== null && (
        <Alert
          severity="warning"
          variant="outlined"
          sx={{ mb: 2 }}
          action={
            <Button color="inherit" onClick={() => void refresh()}>
              Try again
            </Button>
          }
        >
          {problem}
        </Alert>
      )}
      {creating && (
        <NewProjectForm
          onClose={() => setCreating(false)}
          onCreate={(request) => attempt(async () => router.push(`/projects/${(await api.createProject(request)).id}`))}
        />
      )}
      {projects === null && problem === null && <p role="status">Loading the projects …</p>}
      {(find !== '' || (page?.total ?? 0) > 12) && (
        <InputBase
          className="find"
          slotProps={{ input: { 'aria-label': 'Find a project by name' } }}
          placeholder="find by name"
          value={find}
          onChange={(event) => setFind(event.target.value)}
        />
      )}
      {projects?.length === 0 && (
        <p>{find === '' ? 'There is no project yet. “New project” begins one on a bare grid.' : `No project has “${find}” in its name.`}</p>
      )}
      <ul>
        {projects?.map((project) => (
          <li key={project.id} className="card" aria-label={project.name}>
            <Link href={`/projects/${project.id}`}>
              <PlanThumb picture={project.picture} />
              <div className="about">
                <h2 className="serif">{project.name}</h2>
                <p className="quiet">
                  {`${project.floors} ${project.floors === 1 ? 'floor' : 'floors'} · ${project.accessPoints} access points`}
                  <br />
                  {`changed ${localMinute(project.changedAt)}`}
                </p>
                {project.problem !== null && <p role="alert">{wordsOf({ code: project.problem })}</p>}
              </div>
            </Link>
            <div className="row">
              <Button color="secondary" component={Link} href={`/projects/${project.id}`} aria-label={`Open ${project.name}`}>
                Open
              </Button>
              <Button
                color="secondary"
                onClick={() =>
                  void attempt(async () => {
                    await api.createProject({ copyOf: project.id, name: `${project.name} (copy)`.slice(0, 120) });
                    await refresh();
                  })
                }
              >
                Duplicate
              </Button>
              <Button color="secondary" component="a" href={projectFileUrl(project.id)} download aria-label={`Keep as a file: ${project.name}`}>
                Keep as a file
              </Button>
              <Button color="secondary" sx={{ ml: 'auto' }} onClick={() => setAsking(project)}>
                Delete
              </Button>
            </div>
          </li>
        ))}
      </ul>
      {page !== null && (
        <p className="more">
          {`${page.projects.length} of ${page.total} projects shown. `}
          {page.next !== null && <Button onClick={() => void more()}>Show more</Button>}
        </p>
      )}
      <Dialog open={asking !== null} onClose={() => setAsking(null)} aria-labelledby="ask-delete">
        <div className="ask">
          <h2 id="ask-delete" className="serif">
            Delete “{asking?.name}”?
          </h2>
          <p>The project goes with its walks and samples. You can take it back for 10 seconds; then it is gone for good.</p>
          <div className="row end">
            <Button color="secondary" onClick={() => setAsking(null)}>
              Keep it
            </Button>
            <Button
              variant="contained"
              onClick={() => {
                const gone = asking!;
                setAsking(null);
                void attempt(async () => {
                  await api.deleteProject(gone.id);
                  setDeleted(gone);
                  await refresh();
                });
              }}
            >
              Delete project
            </Button>
          </div>
        </div>
      </Dialog>
      <Snackbar
        open={deleted !== null}
        message={`“${deleted?.name ?? ''}” was deleted.`}
        action={
          <Button
            onClick={() => {
              const back = deleted!;
              setDeleted(null);
              void attempt(async () => {
                await api.restoreProject(back.id);
                await refresh();
              });
            }}
            sx={{ color: 'inherit', textDecoration: 'underline' }}
          >
            Undo
          </Button>
        }
      />
    </main>
  );
}

/** A project's lowest floor, small: outline, walls, access points. */
function PlanThumb({ picture }: { picture: PlanPicture | null }) {
  const box = picture === null ? null : boundsOf(picture.outline);
  if (picture === null || box === null) return <div className="thumb" />;
  const pad = Math.max(box.eastM - box.westM, box.southM - box.northM) * 0.05;
  return (
    <svg
      viewBox={`${box.westM - pad} ${box.northM - pad} ${box.eastM - box.westM + 2 * pad} ${box.southM - box.northM + 2 * pad}`}
      className="thumb"
      aria-hidden="true"
    >
      <path d={`M${picture.outline.map((p) => `${p.xM} ${p.yM}`).join('L')}Z`} fill="none" stroke="var(--rule)" vectorEffect="non-scaling-stroke" />
      {picture.walls.map(([ax, ay, bx, by], i) => (
        <line key={i} x1={ax} y1={ay} x2={bx} y2={by} stroke="var(--ink)" strokeWidth={1.4} vectorEffect="non-scaling-stroke" />
      ))}
      {picture.accessPoints.map(([x, y], i) => (
        <circle key={i} cx={x} cy={y} r={pad / 5} fill="var(--hand)" />
      ))}
    </svg>
  );
}

function NewProjectForm({
  onClose,
  onCreate,
}: {
  onClose: () => void;
  onCreate: (request: { name: string; units: UnitSystem; domain: DomainId; widthM: number; heightM: number }) => Promise<void>;
}) {
  const [name, setName] = useState('New building');
  const [units, setUnits] = useState<UnitSystem>('metric');
  const [domain, setDomain] = useState<DomainId>('EU');
  const [width, setWidth] = useState(40);
  const [height, setHeight] = useState(25);
  const unit = units === 'metric' ? 'm' : 'ft';
  const toM = (value: number) => (units === 'metric' ? value : mFromFt(value));
  return (
    <section className="card new" aria-label="New project">
      <TextField label="name" value={name} maxLength={120} onCommit={setName} />
      <SelectField
        label="units"
        value={units}
        options={[
          { value: 'metric', label: 'metric' },
          { value: 'us', label: 'US customary' },
        ]}
        onCommit={setUnits}
      />
      <SelectField label="regulatory domain" value={domain} options={DOMAINS.map((value) => ({ value, label: value }))} onCommit={setDomain} />
      <NumberField label="width" value={width} unit={unit} min={1} max={1000} onCommit={setWidth} />
      <NumberField label="depth" value={height} unit={unit} min={1} max={1000} onCommit={setHeight} />
      <div className="row">
        <Button variant="contained" onClick={() => void onCreate({ name, units, domain, widthM: toM(width), heightM: toM(height) })}>
          Create
        </Button>
        <Button color="secondary" onClick={onClose}>
          Close
        </Button>
      </div>
    </section>
  );
}
