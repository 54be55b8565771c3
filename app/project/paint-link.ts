import { CoreError } from '../../core/errors';
import { WorkerClient, type PaintEvents, type PaintMethods } from '../../workers';
import { type KeepState } from '../../storage';

/** Calls that change the project: they are numbered, and done again by a successor if the worker is lost. */
type Change = {
  [K in keyof PaintMethods]: PaintMethods[K]['params'] extends { readonly call: number } ? K : never;
}[keyof PaintMethods] &
  string;

type Client = WorkerClient<PaintMethods, PaintEvents>;

type Asked = Exclude<keyof PaintMethods & string, Change | 'prepare' | 'open' | 'ping'>;

interface Entry {
  readonly call: number;
  readonly method: Change;
  readonly params: unknown;
  readonly resolve: (value: never) => void;
  readonly reject: (error: Error) => void;
  answered: boolean;
  /** The worker that it was given to. */
  given: unknown;
}

/** How long is waited before each start after the first. */
const WAITS_MS = [200, 2000, 6000] as const;

/** After so long without an end a start counts as a good one. */
const GOOD_AFTER_MS = 60_000;

/** How often the worker is asked whether it still works, and how many times it may leave that unanswered. */
const PING_MS = 3000;
const MOST_MISSED = 6;

export interface PaintLinkOptions {
  readonly makeWorker: () => Worker;
  readonly open: () => Omit<PaintMethods['open']['params'], 'session'>;
  readonly onEvent: { [K in keyof PaintEvents]?: (data: PaintEvents[K]) => void };
  /** A worker was lost and another one is at work, everything done again. */
  readonly onRestart: () => void;
  /** No worker can be had any more. */
  readonly onGiveUp: (error: Error) => void;
}

/**
 * The way to the paint worker. What the worker hasn't confirmed as written to disk is remembered here, and given to its successor if
 * it dies or falls silent; so long as the page is open, no finished stroke depends on it.
 */
export class PaintLink {
  private readonly options: PaintLinkOptions;
  /** Names all workers' calls on behalf of this page. */
  readonly session = crypto.randomUUID();
  private client: Client | null = null;
  /** Settled when the first worker has opened the project; from then on when the present one has. */
  private opened: Promise<void>;
  private firstOpened: (opened: Promise<void>) => void = () => undefined;
  private readonly journal: Entry[] = [];
  private lastCall = 0;
  private starts: number[] = [];
  private closed = false;
  private pulse: ReturnType<typeof setInterval> | null = null;
  private missed = 0;

  constructor(options: PaintLinkOptions) {
    this.options = options;
    this.opened = new Promise((resolve) => (this.firstOpened = resolve));
    this.opened.catch(() => undefined);
  }

  /** Starts a worker that reads the project while the page still measures its model. */
  prepare(project: string): void {
    this.client = this.connect(this.options.makeWorker());
    // What goes wrong is told when the project is opened.
    this.client.call('prepare', { project }).catch(() => undefined);
  }

  /** @throws CoreError if the project can't be opened */
  async open(): Promise<void> {
    await this.start(this.client ?? this.connect(this.options.makeWorker()));
  }

  /** What was asked for and isn't known to be on disk yet. */
  unwritten(): readonly { readonly call: number; readonly method: string; readonly params: unknown }[] {
    return this.journal;
  }

  private connect(worker: Worker): Client {
    const { onEvent } = this.options;
    const client: Client = new WorkerClient<PaintMethods, PaintEvents>(
      worker,
      { ...onEvent, keep: (state) => this.heardKeep(state) },
      () => this.lost(client),
    );
    return client;
  }

  private async start(client: Client): Promise<void> {
    this.starts.push(Date.now());
    this.client = client;
    this.watch(client);
    this.opened = client.call('open', { ...this.options.open(), session: this.session }).then((known) => {
      this.forget(known);
      for (const entry of this.journal) this.send(client, entry);
    });
    this.firstOpened(this.opened);
    await this.opened;
  }

  /** Asks now and then whether the worker still works: one that is stuck says nothing by itself. */
  private watch(client: Client): void {
    if (this.pulse) clearInterval(this.pulse);
    this.missed = 0;
    this.pulse = setInterval(() => {
      if (++this.missed > MOST_MISSED) {
        client.close(new CoreError('worker-died', 'The painting worker no longer answers.'));
        this.lost(client);
        return;
      }
      client.call('ping', null).then(
        () => (this.missed = 0),
        () => undefined,
      );
    }, PING_MS);
  }

  private lost(client: Client): void {
    if (this.closed || client !== this.client) return;
    this.client = null;
    if (this.pulse) clearInterval(this.pulse);
    // One that only prepared is replaced when the project is opened.
    if (this.starts.length === 0) return;
    const now = Date.now();
    this.starts = this.starts.filter((at) => now - at < GOOD_AFTER_MS);
    const wait = WAITS_MS[this.starts.length - 1] ?? WAITS_MS[0];
    if (this.starts.length > WAITS_MS.length) {
      this.giveUp(
        new CoreError(
          'worker-died',
          'The part of the program that paints has stopped several times in a row and isn’t started again. Save the project file now, then reload the page.',
        ),
      );
      return;
    }
    setTimeout(() => {
      if (this.closed) return;
      this.start(this.connect(this.options.makeWorker())).then(
        () => this.options.onRestart(),
        // A worker that dies while it opens the project is lost like any other; what else fails would fail again.
        (error: unknown) => {
          if (error instanceof CoreError && error.code === 'worker-died') return;
          this.giveUp(error instanceof Error ? error : new Error(String(error)));
        },
      );
    }, wait);
  }

  private giveUp(error: Error): void {
    for (const entry of this.journal) if (!entry.answered) entry.reject(error);
    this.options.onGiveUp(error);
  }

  private heardKeep(state: KeepState): void {
    if (state.kept) this.forget(state.call);
    this.options.onEvent.keep?.(state);
  }

  private forget(call: number): void {
    while (this.journal[0] && this.journal[0].call <= call && this.journal[0].answered) this.journal.shift();
    // What is on disk isn't done again, though its answer was lost with the worker.
    for (let i = this.journal.length - 1; i >= 0; i--) {
      const entry = this.journal[i]!;
      if (entry.call > call) continue;
      this.journal.splice(i, 1);
      if (!entry.answered) entry.resolve(null as never);
    }
  }

  private send(client: Client, entry: Entry): void {
    if (entry.given === client) return;
    entry.given = client;
    const { call, method } = entry;
    client.call(method, { ...(entry.params as object), call } as never).then(
      (result) => {
        entry.answered = true;
        entry.resolve(result as never);
      },
      (error: Error) => {
        // A call that was under way when the worker died is done again by the next one.
        if (error instanceof CoreError && error.code === 'worker-died') return;
        entry.answered = true;
        entry.reject(error);
      },
    );
  }

  get changes(): number {
    return this.lastCall;
  }

  /** Does something that changes the project. @throws CoreError as the worker does */
  change<K extends Change>(
    method: K,
    params: Omit<PaintMethods[K]['params'], 'call'>,
  ): Promise<PaintMethods[K]['result']> {
    if (this.closed) return Promise.reject(new CoreError('cancelled', 'The project is closed.'));
    return new Promise((resolve, reject) => {
      const entry: Entry = {
        call: ++this.lastCall,
        method,
        params,
        resolve: resolve as (value: never) => void,
        reject,
        answered: false,
        given: null,
      };
      this.journal.push(entry);
      const { client } = this;
      // While there is no worker it stays in the journal, which the next one is given.
      if (client) void this.opened.then(() => this.send(client, entry)).catch(() => undefined);
    });
  }

  /** Asks for something that changes nothing. @throws CoreError as the worker does, `worker-died` if it is lost meanwhile */
  async ask<K extends Asked>(
    method: K,
    params: PaintMethods[K]['params'],
  ): Promise<PaintMethods[K]['result']> {
    await this.opened;
    if (!this.client) throw new CoreError('worker-died', 'The painting worker is being started again.');
    return this.client.call(method, params);
  }

  /** Lets through what is in line for the disk, then ends the worker. */
  async close(): Promise<void> {
    this.closed = true;
    if (this.pulse) clearInterval(this.pulse);
    const { client } = this;
    this.client = null;
    if (!client) return;
    await client.call('settle', null).catch(() => undefined);
    client.close();
  }
}
