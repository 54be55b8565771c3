import type { OraImage } from '../../core/formats';
import type { AttachCommand, CommandResult, ReachMap, StrokeSummary } from '../../core/engine';
import type { Channel, InkFigures } from '../../core/layers';
import type { Command } from '../../core/commands';
import type { InkLine } from '../../core/ink';
import { type Recipe, recipeFromDocument } from '../../core/document';
import type { Vec3 } from '../../core/math';
import type { Motion } from '../../core/motion';
import type { StrokeBegin } from '../../workers';
import type { PaintLink } from './paint-link';
import { useProject } from './project-store';

/** Does commands: the session itself, or one deed of several. */
export interface Commander {
  command(command: Command): Promise<CommandResult | null>;
  attach(command: AttachCommand, ...files: readonly Uint8Array[]): Promise<CommandResult | null>;
}

/** A deed while it is done. */
export interface DeedCommander extends Commander {
  /** What `work` asks of the session before it returns belongs to the deed too. */
  also(work: () => void): void;
}

/** What is asked of the paint worker of an open project; a refusal is told, and null is given. */
export abstract class PaintCalls implements Commander {
  protected abstract readonly link: PaintLink;
  /** The deed that commands belong to, while it says so. */
  private present: { readonly id: string; readonly label: string } | null = null;

  protected abstract told<T>(work: Promise<T>): Promise<T | null>;

  /** @returns the ids that were given and the number of the step; null if it can't be done, which is told */
  command(command: Command, gesture: string | null = null): Promise<CommandResult | null> {
    return this.told(this.link.change('command', { command, gesture, deed: this.present }));
  }
  /** Does a command with the file that it is about, or several pictures as one step. */
  attach(command: AttachCommand, ...files: readonly Uint8Array[]): Promise<CommandResult | null> {
    return this.told(this.link.change('attach', { command, files, deed: null }));
  }
  /** Does several commands that are one deed of the user: one key undoes all of them. */
  deed<T>(label: string, work: (as: DeedCommander) => Promise<T>): Promise<T> {
    const deed = { id: crypto.randomUUID(), label };
    return work({
      also: (rest) => {
        this.present = deed;
        try {
          rest();
        } finally {
          this.present = null;
        }
      },
      command: (command) => this.told(this.link.change('command', { command, gesture: null, deed })),
      attach: (command, ...files) => this.told(this.link.change('attach', { command, files, deed })),
    });
  }
  /** How many changes of the project were asked for since it was opened: tells whether something is still as it was. */
  get changes(): number {
    return this.link.changes;
  }
  /** A file that the project holds. */
  file(id: number): Promise<Uint8Array | null> {
    return this.told(this.link.ask('file', { id }));
  }
  /** How the model's file moves; null if it doesn't. */
  motion(): Promise<Motion | null> {
    return this.told(this.link.ask('motion', null));
  }
  /** The present build-up as a recipe, with the pictures of its patterns. */
  async recipe(): Promise<Recipe | null> {
    const { document } = useProject.getState();
    if (!document) return null;
    const files = new Map<number, Uint8Array>();
    for (const { id } of document.patterns) {
      const bytes = await this.file(id);
      if (bytes) files.set(id, bytes);
    }
    return recipeFromDocument(document, files);
  }
  /** @param step only that one, if it is the last */
  undo(step: number | null = null): void {
    void this.told(this.link.change('undo', { step }));
  }
  /** The same, awaited. @returns whether that step was the last, and was undone */
  async undoNow(step: number): Promise<boolean> {
    return (await this.told(this.link.change('undo', { step }))) ?? false;
  }
  redo(): void {
    void this.told(this.link.change('redo', {}));
  }
  /** @param done steps from the project's beginning on that are to be done */
  goTo(done: number): void {
    void this.told(this.link.change('goTo', { done }));
  }
  /** What a stroke that would begin on a surface facing so may change; null if it can't begin. */
  async reach(stroke: StrokeBegin, normal: Vec3): Promise<ReachMap | null> {
    try {
      return await this.link.ask('reach', { ...stroke, normal });
    } catch {
      // Why it can't is told when it is tried.
      return null;
    }
  }
  /** Shows a layer as it was after so many of its strokes that can be changed; null: as it is. */
  film(layer: number, channel: Channel, count: number | null): Promise<null> {
    return this.told(this.link.ask('film', { layer, channel, count }));
  }
  /** Strokes of a layer or its mask that can be changed. */
  strokes(layer: number, channel: Channel): Promise<StrokeSummary[] | null> {
    return this.told(this.link.ask('strokes', { layer, channel }));
  }
  /** What is told of an ink layer. */
  inkFigures(layer: number): Promise<InkFigures | null> {
    return this.told(this.link.ask('inkFigures', { layer }));
  }
  /** Lines that the form draws by itself for an ink layer. */
  ownLines(layer: number): Promise<readonly InkLine[] | null> {
    return this.told(this.link.ask('ownLines', { layer }));
  }
  sheetRows(sheet: number): Promise<Uint8Array | null> {
    return this.told(this.link.ask('sheet', { sheet }));
  }
  /** The same with 16 bit a channel. */
  deepRows(sheet: number): Promise<Uint16Array | null> {
    return this.told(this.link.ask('deepSheet', { sheet }));
  }
  /** The detail sheet of a sheet, a channel a mask. */
  detailRows(sheet: number): Promise<Uint8Array | null> {
    return this.told(this.link.ask('detailSheet', { sheet }));
  }
  /** One sheet with all its layers. */
  layered(sheet: number): Promise<OraImage | null> {
    return this.told(this.link.ask('layered', { sheet }));
  }
  projectFile(): Promise<Uint8Array | null> {
    return this.told(this.link.ask('projectFile', null));
  }
}
