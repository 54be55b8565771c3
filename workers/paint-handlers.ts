import {
  compositeDetail,
  compositeSheet,
  compositeSheetDeep,
  layeredPicture,
  type Engine,
} from '../core/engine';
import { CoreError } from '../core/errors';
import type { OraImage, OraNode, Picture } from '../core/formats';
import { PaintSession } from './paint-session';
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
  const session = new PaintSession(emit);
  const done = null;
  /** Counts a call as done whatever came of it: one that failed would fail again. */
  const counted = <T>(call: number, work: () => T): T => {
    session.begin(call);
    try {
      return work();
    } finally {
      session.done();
    }
  };
  const countedLater = async <T>(call: number, work: () => Promise<T>): Promise<T> => {
    session.begin(call);
    try {
      return await work();
    } finally {
      session.done();
    }
  };
  return {
    prepare: ({ project }) => {
      session.prepare(project);
      return done;
    },
    open: (params) => session.open(params),
    command: ({ call, command, gesture, deed }) =>
      counted(call, () => session.command(command, gesture, deed)),
    attach: ({ call, command, files, deed }) => counted(call, () => session.attach(command, files, deed)),
    file: ({ id }) => session.engine.file(id),
    motion: () => session.readMotion(),
    // Neither of these two is counted: a stroke is only in what is kept when it has ended.
    strokeBegin: (params) => {
      const { layer, style, call: _, ...how } = strokeBeginParams.parse(params);
      session.requireOwn();
      session.engine.beginStroke(layer, style, how);
      return done;
    },
    strokeExtend: (params) => {
      const { samples, lift } = strokeExtendParams.parse(params);
      session.engine.extendStroke(samples, lift);
      session.schedule();
      return done;
    },
    strokeEnd: ({ call }) =>
      counted(call, () => {
        session.engine.endStroke();
        session.changed();
        return done;
      }),
    strokeCancel: ({ call }) =>
      counted(call, () => {
        session.engine.cancelStroke();
        session.changed();
        return done;
      }),
    reach: ({ layer, style, normal, ...how }) => session.engine.reach(layer, style, how, normal),
    film: ({ layer, channel, count }) => {
      session.engine.showFilm(layer, channel, count);
      session.schedule();
      return done;
    },
    strokes: ({ layer, channel }) => session.engine.editableStrokes(layer, channel),
    inkFigures: ({ layer }) => session.engine.inkFigures(layer),
    ownLines: ({ layer }) => session.engine.ownLines(layer),
    undo: ({ call, step }) => countedLater(call, () => session.step('undo', step)),
    redo: ({ call }) => countedLater(call, () => session.step('redo')),
    goTo: ({ call, done: wanted }) =>
      countedLater(call, async () => {
        await session.goTo(wanted);
        return done;
      }),
    beginChange: () => session.engine.beginChange(),
    paintPlanes: () => session.engine.paintPlanes(),
    changeModel: ({ call, change }) => countedLater(call, () => session.changeModel(change)),
    cueTiles: (params) => {
      session.cueTiles(params);
      return done;
    },
    cue: (params) => {
      const { spec, on, values } = cueParams.parse(params);
      session.cue(spec, on, values);
      return done;
    },
    view: (params) => {
      session.setView(viewParams.parse(params));
      return done;
    },
    preview: ({ layer, patch }) => {
      session.preview(layer, patch);
      return done;
    },
    sheet: ({ sheet }) => rowsOf(session.engine, sheet, compositeSheet),
    deepSheet: ({ sheet }) => rowsOf(session.engine, sheet, compositeSheetDeep),
    detailSheet: ({ sheet }) => rowsOf(session.engine, sheet, compositeDetail),
    layered: ({ sheet }) => {
      requireSheet(session.engine, sheet);
      const image = layeredPicture(session.engine, sheet);
      return new Transferred(image, buffersOf(image));
    },
    lookAtDetail: ({ isLookedAt }) => {
      session.lookAtDetail(isLookedAt);
      return done;
    },
    projectFile: () => {
      const bytes = session.projectFile();
      return new Transferred(bytes, [bytes.buffer as ArrayBuffer]);
    },
    settle: async () => {
      await session.settle();
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
