import { CoreError, sentenceOf } from '../../core/errors';
import type { Reference } from '../../core/document';
import { rampPicture, sheetOfRamps, type Assigned } from '../../core/ramps';
import { NO_MATCH, type Difference, type PictureMatch } from '../../core/match';
import { TILE, TILE_BYTES } from '../../core/surface';
import { WorkerClient, type HeatPatch, type MatchEvents, type MatchMethods } from '../../workers';

import { makeMatchWorker } from '../shared/platform';
import { useUi } from '../shared/ui-store';
import { NO_MATCH_VIEW, useMatchView, type MatchView } from './match-store';
import { useProject } from './project-store';
import { seatedNow } from './seated';
import { SheetCopy } from './sheet-copy';

/** The paint rests when no tile has come for so long, ms; then it is measured. */
const REST = 250;

type Client = WorkerClient<MatchMethods, MatchEvents>;

interface Source {
  file(id: number): Promise<Uint8Array | null>;
  whenSheet(listener: (sheet: SheetCopy) => void): () => void;
}

/** The reference that is chosen on the easel; the first one otherwise. */
export function matchedReference(): Reference | undefined {
  const references = useProject.getState().document?.references ?? [];
  return references.find((r) => r.id === useUi.getState().reference) ?? references[0];
}

/**
 * Keeps a worker that compares the paint with the chosen reference, as long as someone wants to know: feeds it model, paint and
 * reference as they change, and asks it for a report whenever the paint rests.
 */
export class Matcher {
  private readonly source: Source;
  private client: Client | null = null;
  private readonly wanted = new Set<string>();
  private sheet: SheetCopy | null = null;
  private leave: (() => void)[] = [];
  private leaveSheet: () => void = () => undefined;
  private rest: ReturnType<typeof setTimeout> | 0 = 0;
  private heatOf: Difference | null = null;
  private onProgress: (done: number) => void = () => undefined;
  /** What the worker was last told of. */
  private told: {
    readonly id: number;
    readonly match: PictureMatch | null;
    readonly regions: unknown;
  } | null = null;
  /** Which ramp sheet, and what lies on it. */
  private toldRamps: { readonly seated: Assigned | null; readonly ramps: unknown } | null = null;
  private fed: Promise<void> = Promise.resolve();

  constructor(source: Source) {
    this.source = source;
  }

  /** Someone wants to know, or no longer does. @param who names who it is */
  want(who: string, isWanted: boolean): void {
    if (isWanted) this.wanted.add(who);
    else this.wanted.delete(who);
    if (this.wanted.size > 0 && !this.client) this.start();
    else if (this.wanted.size === 0) this.stop();
  }

  /** Differences are looked at on picture and sheet, or no longer. */
  showHeat(of: Difference | null): void {
    if (of === this.heatOf) return;
    this.heatOf = of;
    this.want('heat', of !== null);
    if (of === null) this.tell({ heat: null, heatSheet: null });
    if (this.client) void this.askHeat();
  }

  /**
   * Asks the worker.
   *
   * @throws CoreError `cancelled` if it was stopped, or what it says
   */
  async ask<K extends keyof MatchMethods & string>(
    method: K,
    params: MatchMethods[K]['params'],
    onProgress: (done: number) => void = () => undefined,
  ): Promise<MatchMethods[K]['result']> {
    if (!this.client) this.start();
    await this.fed;
    const { client } = this;
    if (!client) throw new CoreError('cancelled', 'Stopped.');
    this.onProgress = onProgress;
    useMatchView.setState((s) => ({ busy: s.busy + 1 }));
    try {
      return await client.call(method, params);
    } finally {
      useMatchView.setState((s) => ({ busy: Math.max(0, s.busy - 1) }));
    }
  }

  /** Ends what is under way; the worker begins anew. */
  cancel(): void {
    if (!this.client) return;
    this.close();
    if (this.wanted.size > 0) this.start();
  }

  /** A report of the paint as it is now. @throws CoreError as `ask` */
  async measureNow(): Promise<NonNullable<MatchView['report']>> {
    await this.painted();
    const report = await this.ask('report', null);
    this.tell({ report, isStale: false, problem: '' });
    return report;
  }

  /** Waits until nothing is asked of the worker any more. */
  async idle(): Promise<void> {
    while (useMatchView.getState().busy > 0 && this.client) await new Promise((next) => setTimeout(next, 40));
  }

  /** Waits until all that was asked for is painted, and told to the worker. */
  private painted(): Promise<void> {
    return new Promise((resolve) => {
      const look = (): void => {
        const { pending } = useProject.getState();
        if (pending > 0) setTimeout(look, 30);
        else setTimeout(resolve, 60);
      };
      // A command's tiles are told of a moment after its answer.
      setTimeout(look, 60);
    });
  }

  dispose(): void {
    this.wanted.clear();
    this.stop();
    useMatchView.setState(NO_MATCH_VIEW);
  }

  // ---- the worker ------------------------------------------------------------------------------------------------------

  private tell(patch: Partial<MatchView>): void {
    useMatchView.setState((s) => ({ ...patch, revision: s.revision + 1 }));
  }

  private start(): void {
    const client: Client = new WorkerClient<MatchMethods, MatchEvents>(
      makeMatchWorker(),
      { progress: (done) => this.onProgress(done), heat: (patch) => this.takeHeat(patch) },
      () => {
        this.close();
        this.tell({ problem: 'Comparing stopped and is begun anew at the next change.' });
      },
    );
    this.client = client;
    this.told = null;
    this.toldRamps = null;
    this.leave = [
      this.source.whenSheet((sheet) => this.takeSheet(sheet)),
      useProject.subscribe((now, before) => {
        if (now.document === before.document) return;
        this.rampsChanged();
        this.referenceChanged();
      }),
      useUi.subscribe((now, before) => {
        if (now.reference !== before.reference) this.referenceChanged();
      }),
    ];
    this.referenceChanged();
  }

  private stop(): void {
    this.close();
    useMatchView.setState((s) => ({ busy: 0, heat: null, heatSheet: null, isStale: s.report !== null }));
  }

  private close(): void {
    for (const leave of this.leave.splice(0)) leave();
    this.leaveSheet();
    this.leaveSheet = () => undefined;
    if (this.rest) clearTimeout(this.rest);
    this.rest = 0;
    this.client?.close();
    this.client = null;
    this.sheet = null;
    this.told = null;
  }

  /** Feeds the worker in turn; what fails is told, and what comes after is fed all the same. */
  private feed(work: (client: Client) => Promise<void>): void {
    const { client } = this;
    if (!client) return;
    this.fed = this.fed.then(async () => {
      if (client !== this.client) return;
      try {
        await work(client);
      } catch (error) {
        if (error instanceof CoreError && error.code === 'cancelled') return;
        if (client === this.client) this.tell({ problem: sentenceOf(error), report: null });
      }
    });
  }

  private takeSheet(sheet: SheetCopy): void {
    const { mesh } = useProject.getState();
    if (!mesh) return;
    this.leaveSheet();
    this.sheet = sheet;
    this.leaveSheet = sheet.subscribe({
      tiles: ({ tiles, subs, pixels, left }) => {
        void this.client?.call('setTiles', { tiles, subs, pixels }).catch(() => undefined);
        if (left === 0) this.measureSoon();
      },
    });
    this.feed(async (client) => {
      await client.call('setModel', {
        mesh,
        sizes: sheet.sheets.map(({ size }) => size),
        pictures: sheet.pictures,
      });
      this.measureSoon();
    });
    this.rampsChanged();
  }

  /** What lies on the ramp sheet is compared by its colours there. */
  private rampsChanged(): void {
    const ramps = useProject.getState().document?.ramps ?? null;
    const seated = ramps && seatedNow();
    const { toldRamps } = this;
    if (toldRamps ? toldRamps.seated === seated && toldRamps.ramps === ramps : !seated) return;
    this.toldRamps = { seated, ramps };
    this.feed(async (client) => {
      const sheet = ramps && rampPicture(sheetOfRamps(ramps), ramps.size);
      await client.call('setRamps', seated && sheet ? { ...seated, sheet } : null);
      this.measureSoon();
    });
  }

  private referenceChanged(): void {
    const reference = matchedReference();
    const regions = useProject.getState().document?.regions;
    const { told } = this;
    if (!reference) {
      this.told = null;
      this.tell({ ...NO_MATCH_VIEW, busy: useMatchView.getState().busy });
      return;
    }
    const isSame = told?.id === reference.id;
    if (isSame && told.match === reference.match && told.regions === regions) return;
    this.told = { id: reference.id, match: reference.match, regions };
    const how = {
      match: reference.match ?? NO_MATCH,
      regions: (regions ?? []).map(({ name, faces }) => ({ name, faces })),
    };
    if (!isSame) this.tell({ reference: reference.id, read: null, report: null, problem: '' });
    this.feed(async (client) => {
      const file = isSame ? null : await this.source.file(reference.id);
      if (!isSame && !file) {
        throw new CoreError('file-not-a-picture', 'That reference can’t be read. Add it again on the easel.');
      }
      const read = file
        ? await client.call('setReference', { file, ...how })
        : await client.call('setMatch', how);
      this.tell({ read, problem: '' });
      this.measureSoon();
    });
  }

  /** Measures when the paint has come to rest. */
  private measureSoon(): void {
    if (useMatchView.getState().report) useMatchView.setState({ isStale: true });
    if (this.rest) clearTimeout(this.rest);
    this.rest = setTimeout(() => {
      this.rest = 0;
      if (useProject.getState().pending > 0) this.measureSoon();
      else void this.measure();
    }, REST);
  }

  private async measure(): Promise<void> {
    const { client } = this;
    const reference = matchedReference();
    if (!client || !reference) return;
    if (!reference.match?.camera) {
      this.tell({ report: null, isStale: false });
      return;
    }
    try {
      const report = await this.ask('report', null);
      // What has changed meanwhile is measured after this.
      if (client === this.client) this.tell({ report, isStale: this.rest !== 0, problem: '' });
      if (this.heatOf && !useMatchView.getState().heat) await this.askHeat();
    } catch (error) {
      if (error instanceof CoreError && error.code === 'cancelled') return;
      if (client === this.client) this.tell({ report: null, problem: sentenceOf(error) });
    }
  }

  // ---- differences -----------------------------------------------------------------------------------------------------

  private async askHeat(): Promise<void> {
    try {
      const patch = await this.ask('heat', { of: this.heatOf });
      if (patch) this.takeHeat(patch);
    } catch (error) {
      if (error instanceof CoreError && error.code === 'cancelled') return;
      this.tell({ heat: null, heatSheet: null, problem: sentenceOf(error) });
    }
  }

  private takeHeat({ of, picture, width, height, block, tiles, pixels }: HeatPatch): void {
    if (of !== this.heatOf || !this.sheet) return;
    const before = useMatchView.getState().heatSheet;
    const sizes = (copy: SheetCopy): string => copy.sheets.map(({ size }) => size).join();
    const heatSheet =
      before && sizes(before) === sizes(this.sheet) ? before : new SheetCopy(this.sheet.sheets);
    heatSheet.take({
      tiles,
      subs: tiles.map(() => 15),
      pixels: enlarged(pixels, tiles.length, block),
      left: 0,
    });
    this.tell({ heat: { width, height, picture }, heatSheet });
  }
}

/** Tiles of fewer texels as whole ones. */
function enlarged(pixels: Uint8Array, count: number, block: number): Uint8Array {
  if (block === TILE) return pixels;
  const from = new Uint32Array(pixels.buffer, pixels.byteOffset, count * block * block);
  const to = new Uint32Array((count * TILE_BYTES) / 4);
  for (let t = 0; t < count; t++) {
    for (let y = 0; y < TILE; y++) {
      const row = (t * block + Math.floor((y * block) / TILE)) * block;
      for (let x = 0; x < TILE; x++)
        to[(t * TILE + y) * TILE + x] = from[row + Math.floor((x * block) / TILE)]!;
    }
  }
  return new Uint8Array(to.buffer);
}
