import {
  compositeDetail,
  compositeSheet,
  compositeSheetDeep,
  layeredPicture,
  type Engine,
} from '../core/engine';
import { CoreError } from '../core/errors';
import type { OraImage, OraNode, Picture } from '../core/formats';
import { PaintDesk } from './paint-desk';
import {
  cueParams,
  strokeBeginParams,
  strokeExtendParams,
  viewParams,
  type PaintEvents,
  type PaintMethods,
} from './paint-protocol';
import { Transferred, type Emit, type Handlers } from './rpc';

/** What the paint worker does with each call. */
export function paintHandlers(emit: Emit<PaintEvents>): Handlers<PaintMethods> {
  const desk = new PaintDesk(emit);
  const done = null;
  /** Counts a call as done whatever came of it: one that failed would fail again. */
  const counted = <T>(call: number, work: () => T): T => {
    desk.begin(call);
    try {
      return work();
    } finally {
      desk.done();
    }
  };
  const countedLater = async <T>(call: number, work: () => Promise<T>): Promise<T> => {
    desk.begin(call);
    try {
      return await work();
    } finally {
      desk.done();
    }
  };
  return {
    prepare: ({ project }) => {
      desk.prepare(project);
      return done;
    },
    open: (params) => desk.open(params),
    command: ({ call, command, gesture, deed }) => counted(call, () => desk.command(command, gesture, deed)),
    attach: ({ call, command, files, deed }) => counted(call, () => desk.attach(command, files, deed)),
    file: ({ id }) => desk.engine.file(id),
    // Neither of these two is counted: a stroke is only in what is kept when it has ended.
    strokeBegin: (params) => {
      const { layer, style, call: _, ...how } = strokeBeginParams.parse(params);
      desk.requireOwn();
      desk.engine.beginStroke(layer, style, how);
      return done;
    },
    strokeExtend: (params) => {
      const { samples, lift } = strokeExtendParams.parse(params);
      desk.engine.extendStroke(samples, lift);
      desk.schedule();
      return done;
    },
    strokeEnd: ({ call }) =>
      counted(call, () => {
        desk.engine.endStroke();
        desk.changed();
        return done;
      }),
    strokeCancel: ({ call }) =>
      counted(call, () => {
        desk.engine.cancelStroke();
        desk.changed();
        return done;
      }),
    reach: ({ layer, style, normal, ...how }) => desk.engine.reach(layer, style, how, normal),
    film: ({ layer, channel, count }) => {
      desk.engine.showFilm(layer, channel, count);
      desk.schedule();
      return done;
    },
    strokes: ({ layer, channel }) => desk.engine.editableStrokes(layer, channel),
    inkFigures: ({ layer }) => desk.engine.inkFigures(layer),
    ownLines: ({ layer }) => desk.engine.ownLines(layer),
    undo: ({ call, step }) => countedLater(call, () => desk.step('undo', step)),
    redo: ({ call }) => countedLater(call, () => desk.step('redo')),
    goTo: ({ call, done: wanted }) =>
      countedLater(call, async () => {
        await desk.goTo(wanted);
        return done;
      }),
    beginChange: () => desk.engine.beginChange(),
    paintPlanes: () => desk.engine.paintPlanes(),
    changeModel: ({ call, change }) => counted(call, () => desk.changeModel(change)),
    cueTiles: (params) => {
      desk.cueTiles(params);
      return done;
    },
    cue: (params) => {
      const { spec, on, values } = cueParams.parse(params);
      desk.cue(spec, on, values);
      return done;
    },
    view: (params) => {
      desk.setView(viewParams.parse(params));
      return done;
    },
    preview: ({ layer, patch }) => {
      desk.preview(layer, patch);
      return done;
    },
    sheet: ({ sheet }) => rowsOf(desk.engine, sheet, compositeSheet),
    deepSheet: ({ sheet }) => rowsOf(desk.engine, sheet, compositeSheetDeep),
    detailSheet: ({ sheet }) => rowsOf(desk.engine, sheet, compositeDetail),
    layered: ({ sheet }) => {
      requireSheet(desk.engine, sheet);
      const image = layeredPicture(desk.engine, sheet);
      return new Transferred(image, buffersOf(image));
    },
    lookAtDetail: ({ isLookedAt }) => {
      desk.lookAtDetail(isLookedAt);
      return done;
    },
    projectFile: () => {
      const bytes = desk.projectFile();
      return new Transferred(bytes, [bytes.buffer as ArrayBuffer]);
    },
    settle: async () => {
      await desk.settle();
      return done;
    },
    ping: () => done,
  };
}

/** @throws CoreError `bad-argument` if the sheet isn't there */
function requireSheet({ surface }: Engine, sheet: number): void {
  if (!surface.sheets[sheet]) throw new CoreError('bad-argument', 'That sheet is no longer there.');
}

/** The pixels of a picture of layers, each buffer once. */
function buffersOf({ nodes, merged, thumbnail }: OraImage): ArrayBuffer[] {
  const all = (list: readonly OraNode[]): readonly Picture[] =>
    list.flatMap((node) => (node.kind === 'layer' ? [node.picture] : all(node.nodes)));
  return [...new Set([...all(nodes), merged, thumbnail].map(({ rgba }) => rgba.buffer as ArrayBuffer))];
}

/** See `requireSheet`. */
function rowsOf<T extends Uint8Array | Uint16Array>(
  engine: Engine,
  sheet: number,
  make: (engine: Engine, sheet: number) => T,
): Transferred<T> {
  requireSheet(engine, sheet);
  const rows = make(engine, sheet);
  return new Transferred(rows, [rows.buffer as ArrayBuffer]);
}
