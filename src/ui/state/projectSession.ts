import { v7 as uuid } from 'uuid';
import { UpperRoomError, type ErrorCode } from '@/core/errors';
import type { LogLine, OpenedProject, Outgoing, ProjectEvent, StepAnswer } from '@/contract/http';
import { EMPTY_DESIGN, TABLES, versionOf, type Design } from '@/core/design/registry';
import { EMPTY_HISTORY, historyOf, type History } from '@/core/design/history';
import { contestedPart, insistOn, type Conflict } from '@/core/design/merge';
import { applyChanges, changesBetween, invert, newStep, type Change, type Step, type StepHead, type StepKind } from '@/core/design/step';
import { isPassing, type Notice } from './notices';
import type { Kept, Refusal } from './outbox';
import type { Surroundings } from './surroundings';

export type SaveState = 'saved' | 'saving' | 'unsaved' | 'deleted';

/** What a window shows of its open project's document. */
export type DocumentState = {
  projectId: string | null;
  loadError: UpperRoomError | null;
  revision: number;
  /** The design as the server has it, and with what is not acknowledged yet on top. */
  confirmed: Design;
  design: Design;
  pending: readonly Step[];
  /** The latest lines of the log, oldest first. */
  log: readonly LogLine[];
  history: History;
  titles: Readonly<Record<string, string>>;
  saveState: SaveState;
  /** Where unsent edits are kept: on the browser's disk, or in this window only because the disk refuses. */
  kept: 'disk' | 'window';
  notice: Notice | null;
  /** Edits that the server did not take, until they are settled. */
  refused: readonly Refusal[];
  /** Stored records that this version cannot read; they are left where they are. */
  unreadable: OpenedProject['unreadable'];
  /** Raised when another window, or this one, stored samples of a walk. */
  samplesVersion: Readonly<Record<string, number>>;
};

export const EMPTY_DOCUMENT: DocumentState = {
  projectId: null,
  loadError: null,
  revision: 0,
  confirmed: EMPTY_DESIGN,
  design: EMPTY_DESIGN,
  pending: [],
  log: [],
  history: EMPTY_HISTORY,
  titles: {},
  saveState: 'saved',
  kept: 'disk',
  notice: null,
  refused: [],
  unreadable: [],
  samplesVersion: {},
};

/** An item on its way, with its place on the browser's disk once it has one. */
type Queued = { item: Outgoing; key: number | null; sent: boolean };

/** A fault of the server that an item meets this often is the item's: it is set aside, so that the others can go on. */
const FAULTS_BEFORE_SETTING_ASIDE = 8;

/** The id by which an item is known to the server. */
const idOf = (item: Outgoing): string => (item.kind === 'step' ? item.step.id : item.kind === 'samples' ? item.batch.batchId : item.withdrawalId);
const titleOf = (item: Outgoing): string =>
  item.kind === 'step' ? item.step.title : item.kind === 'samples' ? 'Samples of a walk' : 'Samples taken back';

/**
 * One open project in one window: its queue, its event stream, the steps it knows. All of it ends with `close`, and whatever answer comes
 * after that is let go: a slow answer of one project can never reach another. It stays whole because every answer must be held against the
 * one life that asked.
 */
export class ProjectSession {
  private open = true;
  private readonly queue: Queued[] = [];
  private readonly known = new Map<string, Step>();
  private readonly stops: Array<() => void> = [];
  private state: DocumentState;
  private failures = 0;
  private faults = 0;
  private sending = false;
  private again = false;
  /** Whether something is still to be sent. */
  private waits = false;
  private catching = false;
  private retryTimer: ReturnType<typeof setTimeout> | undefined;
  private catchTimer: ReturnType<typeof setTimeout> | undefined;
  private travelling: Promise<void> = Promise.resolve();

  constructor(
    readonly projectId: string,
    private readonly world: Surroundings,
    private readonly show: (state: Partial<DocumentState>) => void,
  ) {
    this.state = { ...EMPTY_DOCUMENT };
  }

  private set(fields: Partial<DocumentState>): void {
    if (!this.open) return;
    this.state = { ...this.state, ...fields };
    this.show(fields);
  }

  /** Opens the project and keeps it up to date until `close`. */
  async begin(): Promise<void> {
    try {
      await this.load();
      if (!this.open) return;
      this.stops.push(this.world.follow(this.projectId, (event) => this.hear(event)));
      this.stops.push(this.world.hear(this.projectId, () => void this.loadRefused()));
      await this.loadRefused();
      await this.flush();
    } catch (error) {
      if (!(error instanceof UpperRoomError)) throw error;
      this.set({ ...EMPTY_DOCUMENT, loadError: error });
    }
  }

  close(): void {
    this.open = false;
    clearTimeout(this.retryTimer);
    clearTimeout(this.catchTimer);
    for (const stop of this.stops) stop();
  }

  // What the window shows.

  private rebuild(confirmed: Design, pending: readonly Step[], log: readonly LogLine[]): void {
    const lines: StepHead[] = [...log.filter((line) => line.revision > 1), ...pending];
    this.set({
      confirmed,
      pending,
      log,
      design: pending.reduce((design, step) => applyChanges(design, step.changes), confirmed),
      history: historyOf(lines, this.world.author),
      titles: Object.fromEntries(lines.map(({ id, title }) => [id, title])),
    });
  }

  /** Takes the project as the server has it, with what waits here on top. */
  private async load(): Promise<void> {
    const opened = await this.world.api.openProject(this.projectId);
    if (!this.open) return;
    const newer = TABLES.find((table) => (opened.versions[table] ?? 1) !== versionOf(table));
    if (newer !== undefined) throw new UpperRoomError('PROJECT_NEWER', { table: newer });
    const waiting = (await this.waitingOnDisk()).flatMap(({ item }) => (item.kind === 'step' ? [item.step] : []));
    const own = this.queue.flatMap(({ item, sent }) => (item.kind === 'step' && !sent ? [item.step] : []));
    const done = new Set(opened.log.map(({ id }) => id));
    const pending = [...new Map([...waiting, ...own].filter(({ id }) => !done.has(id)).map((step) => [step.id, step])).values()];
    this.set({ projectId: this.projectId, revision: opened.revision, unreadable: opened.unreadable, loadError: null });
    this.rebuild(opened.design, pending, opened.log);
  }

  /** Everything afresh: after the server went back to an older state. What came meanwhile follows from the log. */
  private async reload(): Promise<void> {
    await this.load();
    await this.catchUp();
  }

  private async loadRefused(): Promise<void> {
    try {
      const onDisk = await this.world.outbox.refusals(this.projectId);
      const here = this.state.refused.filter((one) => this.inWindowOnly.has(one.id) && !onDisk.some((other) => other.id === one.id));
      this.set({ refused: [...onDisk, ...here] });
    } catch (error) {
      this.diskRefuses(error);
    }
  }

  // What comes from the server.

  private hear(event: ProjectEvent): void {
    if (!this.open) return;
    switch (event.type) {
      case 'hello':
        if (this.state.saveState === 'deleted') this.set({ saveState: 'saved' });
        if (event.revision > this.state.revision) void this.catchUp();
        else if (event.revision < this.state.revision) void this.attempt(() => this.reload());
        return void this.flush();
      case 'step':
        return this.receive(event.revision, event.step);
      case 'samples':
        return this.set({ samplesVersion: { ...this.state.samplesVersion, [event.walkId]: (this.state.samplesVersion[event.walkId] ?? 0) + 1 } });
      case 'deleted':
        return this.set({ saveState: 'deleted', notice: { code: 'PROJECT_DELETED' } });
      case 'restored':
        this.set({ saveState: 'saved', notice: { words: 'The project was restored.' } });
        void this.catchUp();
        return void this.flush();
    }
  }

  /** Takes in a step the server has applied; steps come in order, a gap is filled from the log. */
  private receive(revision: number, step: Step): void {
    if (!this.open || revision <= this.state.revision) return;
    if (revision > this.state.revision + 1) return void this.catchUp();
    this.known.set(step.id, step);
    for (const queued of this.queue) if (idOf(queued.item) === step.id) queued.sent = true;
    const { id, title, kind, ofStepId, author } = step;
    this.set({ revision });
    this.rebuild(
      applyChanges(this.state.confirmed, step.changes),
      this.state.pending.filter((pending) => pending.id !== id),
      [...this.state.log, { revision, id, title, kind, ofStepId, author, at: new Date().toISOString() }],
    );
  }

  private async catchUp(): Promise<void> {
    if (this.catching) return;
    this.catching = true;
    let behind = false;
    const reached = await this.attempt(async () => {
      for (let missed = await this.missed(); this.open && missed.length > 0; missed = await this.missed()) {
        const before = this.state.revision;
        for (const { revision, step } of missed) this.receive(revision, step);
        // What was fetched no longer fits, for the project was loaded afresh meanwhile: look again in a while.
        behind = this.state.revision === before;
        if (behind) break;
      }
    });
    this.catching = false;
    if ((reached && !behind) || !this.open) return;
    clearTimeout(this.catchTimer);
    this.catchTimer = setTimeout(() => void this.catchUp(), this.world.retryMs.at(-1));
  }

  private missed() {
    return this.world.api.stepsAfter(this.projectId, this.state.revision);
  }

  // What goes to the server.

  /** Applies changes at once and sends them. Nothing happens when there are none. */
  commit(title: string, kind: StepKind, ofStepId: string | null, changes: readonly Change[]): void {
    if (!this.open || this.state.projectId === null || changes.length === 0) return;
    if (this.state.saveState === 'deleted') return this.set({ notice: { code: 'PROJECT_DELETED' } });
    const step = newStep(uuid(), title, this.world.author, changes, kind, ofStepId);
    this.known.set(step.id, step);
    this.rebuild(this.state.confirmed, [...this.state.pending, step], this.state.log);
    void this.dispatch({ kind: 'step', projectId: this.projectId, baseRevision: this.state.revision, step });
  }

  /** Sends an item through the one queue, so that order is the order in which things were done. */
  async dispatch(item: Outgoing): Promise<void> {
    if (this.state.saveState !== 'deleted') this.set({ saveState: this.failures > 0 ? 'unsaved' : 'saving' });
    const queued: Queued = { item, key: null, sent: false };
    this.queue.push(queued);
    try {
      queued.key = await this.world.outbox.keep(item);
      this.set({ kept: 'disk' });
      // It may have been sent while the disk was still writing.
      if (queued.sent) await this.release(queued);
    } catch (error) {
      this.diskRefuses(error);
    }
    await this.flush();
  }

  private diskRefuses(error: unknown): void {
    if (this.state.kept !== 'window') console.warn('The browser refuses its disk; unsent edits are kept in this window only.', error);
    this.set({ kept: 'window' });
  }

  private async release(queued: Queued): Promise<void> {
    const { key } = queued;
    queued.key = null;
    if (key !== null) await this.world.outbox.release(key).catch((error: unknown) => this.diskRefuses(error));
  }

  /** What other tabs, or this one before a reload, left on the browser's disk. */
  private async waitingOnDisk(): Promise<Queued[]> {
    const own = new Set(this.queue.map(({ item }) => idOf(item)));
    try {
      const { items, unreadable } = await this.world.outbox.waiting(this.projectId);
      if (unreadable > 0) this.set({ notice: { code: 'OUTBOX_UNREADABLE', details: { count: unreadable } } });
      return items.flatMap(({ key, ...item }: Kept) => (own.has(idOf(item)) ? [] : [{ item, key, sent: false }]));
    } catch (error) {
      this.diskRefuses(error);
      return [];
    }
  }

  /** Sends what waits, one after the other, one tab at a time. Without network it tries again by itself. */
  async flush(): Promise<void> {
    this.again = true;
    if (this.sending) return;
    this.sending = true;
    clearTimeout(this.retryTimer);
    try {
      while (this.again && this.open && this.state.saveState !== 'deleted') {
        this.again = false;
        await this.world.exclusively(`upper-room.outbox.${this.projectId}`, () => this.sendAll());
      }
    } finally {
      this.sending = false;
    }
    if (this.waits || this.state.saveState === 'deleted') return;
    this.set({ saveState: 'saved' });
  }

  private async sendAll(): Promise<void> {
    this.waits = true;
    const left = await this.waitingOnDisk();
    for (const queued of left) if (!(await this.sendOne(queued))) return;
    while (this.open && this.queue.length > 0) {
      const queued = this.queue[0]!;
      if (!queued.sent && !(await this.sendOne(queued))) return;
      queued.sent = true;
      this.queue.shift();
      await this.release(queued);
    }
    this.waits = !this.open;
    this.failures = 0;
  }

  /** Sends an item and settles what becomes of it; false when sending must wait. */
  private async sendOne(queued: Queued): Promise<boolean> {
    if (!this.open) return false;
    const { item } = queued;
    this.set({ saveState: this.failures > 0 ? 'unsaved' : 'saving' });
    try {
      if (item.kind === 'samples') await this.world.api.postSamples(this.projectId, item.walkId, item.batch);
      else if (item.kind === 'withdraw') {
        const { withdrawalId, afterMs } = item;
        await this.world.api.withdrawSamples(this.projectId, item.walkId, { withdrawalId, afterMs });
      } else await this.taken(item, await this.world.api.postStep(this.projectId, { baseRevision: item.baseRevision, step: item.step }));
    } catch (error) {
      if (!(error instanceof UpperRoomError)) throw error;
      if (!(await this.refusedWith(queued, error))) return false;
    }
    this.failures = 0;
    this.faults = 0;
    queued.sent = true;
    await this.release(queued);
    return this.open;
  }

  private async taken(item: Outgoing, answer: StepAnswer): Promise<void> {
    this.receive(answer.revision, answer.step);
    // What lies between comes first; until then the edit stays on top as a pending one. An answer to a step sent again may be an old one.
    if (answer.revision <= this.state.revision) this.dropPending(answer.step.id);
    if (answer.conflicts.length > 0) await this.setAside(item, 'STEP_CONFLICT', answer.conflicts);
  }

  private dropPending(stepId: string): void {
    const pending = this.state.pending.filter(({ id }) => id !== stepId);
    if (pending.length < this.state.pending.length) this.rebuild(this.state.confirmed, pending, this.state.log);
  }

  /** What to do with an item that was not taken; false when it stays in the queue. */
  private async refusedWith(queued: Queued, error: UpperRoomError): Promise<boolean> {
    const { item } = queued;
    if (error.code === 'PROJECT_DELETED' || error.code === 'PROJECT_UNKNOWN') {
      // What was not sent is kept, should the project be restored.
      this.set({ saveState: 'deleted', notice: { code: 'PROJECT_DELETED' } });
      return false;
    }
    this.faults = error.code === 'SERVER_FAULT' ? this.faults + 1 : this.faults;
    if (isPassing(error.code) && this.faults < FAULTS_BEFORE_SETTING_ASIDE) {
      const { retryMs } = this.world;
      this.retryTimer = setTimeout(() => void this.flush(), retryMs[Math.min(this.failures, retryMs.length - 1)]);
      this.failures++;
      this.set({ saveState: 'unsaved', ...(error.code === 'NETWORK_FAILED' ? {} : { notice: { code: error.code } }) });
      return false;
    }
    const { conflicts = [], errors = [] } = error.details as { conflicts?: Conflict[]; errors?: Array<{ path: string; message: string }> };
    await this.setAside(item, error.code, conflicts);
    // Out of the queue before anything is loaded afresh: what is settled aside is not pending any more.
    queued.sent = true;
    await this.release(queued);
    if (errors.length > 0) this.set({ notice: { code: error.code, details: { errors } } });
    if (item.kind === 'step') {
      this.dropPending(item.step.id);
      if (error.code === 'REVISION_AHEAD') await this.attempt(() => this.reload());
      else await this.catchUp();
    }
    return true;
  }

  // Refused edits.

  /** Refusals that the disk did not take: they last as long as the window. */
  private readonly inWindowOnly = new Set<string>();

  private async setAside(item: Outgoing, code: ErrorCode, conflicts: readonly Conflict[]): Promise<void> {
    const refusal: Refusal = { id: idOf(item), projectId: this.projectId, at: new Date().toISOString(), title: titleOf(item), code, conflicts, item };
    this.set({ refused: [...this.state.refused.filter(({ id }) => id !== refusal.id), refusal], notice: { code } });
    try {
      await this.world.outbox.refuse(refusal);
      this.world.tell(this.projectId);
    } catch (error) {
      this.inWindowOnly.add(refusal.id);
      this.diskRefuses(error);
    }
  }

  /** Takes a refused edit off the list. */
  async discard(refusal: Refusal): Promise<void> {
    this.inWindowOnly.delete(refusal.id);
    this.set({ refused: this.state.refused.filter(({ id }) => id !== refusal.id) });
    try {
      await this.world.outbox.settle(refusal);
      this.world.tell(this.projectId);
    } catch (error) {
      this.diskRefuses(error);
    }
  }

  /** Makes a refused edit stand after all, as a step of its own on the design as it is now. */
  async applyMine(refusal: Refusal): Promise<void> {
    const { item, conflicts, title } = refusal;
    if (item.kind !== 'step') void this.dispatch(item);
    else {
      const mine = conflicts.length > 0 ? contestedPart(item.step.changes, conflicts) : item.step.changes;
      const changes = insistOn(this.state.design, mine);
      if (changes.length === 0) this.set({ notice: { words: 'Your values stand already.' } });
      this.commit(`Apply mine: ${title}`.slice(0, 200), 'do', null, changes);
    }
    await this.discard(refusal);
  }

  // Undo, redo, and going back.

  private async changesOf(stepId: string): Promise<readonly Change[]> {
    const local = this.known.get(stepId);
    if (local !== undefined) return local.changes;
    const { step } = await this.world.api.getStep(this.projectId, stepId);
    this.known.set(stepId, step);
    return step.changes;
  }

  /** Undo and redo wait for each other: two quick ones take two steps, whatever has to be fetched. */
  travel(kind: 'undo' | 'redo'): Promise<void> {
    return this.inTurn(async () => {
      const stepId = this.state.history[kind].at(-1);
      if (stepId === undefined) return;
      const changes = await this.changesOf(stepId);
      if (!this.open) return;
      const title = `${kind === 'undo' ? 'Undo' : 'Redo'}: ${this.state.titles[stepId] ?? 'step'}`;
      this.commit(title.slice(0, 200), kind, stepId, kind === 'undo' ? invert(changes) : changes);
    });
  }

  /** Brings the design back to how it was after a revision, as one step that can be undone. Measurements stay. */
  goBackTo(line: Pick<LogLine, 'id' | 'revision' | 'title'>): Promise<void> {
    return this.inTurn(async () => {
      const later = await this.changesSince(line.revision);
      if (later === null) return;
      const then = applyChanges(this.state.design, invert(later));
      this.commit(`Go back to “${line.title}”`.slice(0, 200), 'do', line.id, changesBetween(this.state.design, then, later));
    });
  }

  /** The design as it stood after a step, to be looked at; null when the server did not say, which is told. */
  async designAt(line: Pick<LogLine, 'revision'>): Promise<Design | null> {
    let then: Design | null = null;
    await this.inTurn(async () => {
      const later = await this.changesSince(line.revision);
      if (later !== null) then = applyChanges(this.state.design, invert(later));
    });
    return then;
  }

  /** All that was changed after a revision, what is not sent yet included; null when the project was closed meanwhile. */
  private async changesSince(revision: number): Promise<Change[] | null> {
    const later: Change[] = [];
    for (let from = revision; from < this.state.revision;) {
      const steps = await this.world.api.stepsAfter(this.projectId, from);
      if (!this.open || steps.length === 0) break;
      for (const { step } of steps) later.push(...step.changes);
      from = steps.at(-1)!.revision;
    }
    if (!this.open) return null;
    for (const step of this.state.pending) later.push(...step.changes);
    return later;
  }

  private inTurn(work: () => Promise<void>): Promise<void> {
    return (this.travelling = this.travelling.then(async () => void (await this.attempt(work, true))));
  }

  /** Does work that asks the server; false when the wire failed it. `wished` says that somebody waits for it and wants to know. */
  private async attempt(work: () => Promise<void>, wished = false): Promise<boolean> {
    try {
      await work();
      return true;
    } catch (error) {
      if (!(error instanceof UpperRoomError)) throw error;
      if (error.code === 'PROJECT_DELETED' || error.code === 'PROJECT_UNKNOWN')
        this.set({ saveState: 'deleted', notice: { code: 'PROJECT_DELETED' } });
      else if (wished || !isPassing(error.code)) this.set({ notice: { code: error.code, details: error.details } });
      return !isPassing(error.code);
    }
  }
}
