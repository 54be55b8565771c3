// @vitest-environment jsdom
import { act, cleanup, render } from '@testing-library/react';
import { Profiler, type ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { applyToDocument } from '../core/commands';
import { newDocument, oneSheet, type ProjectDocument } from '../core/document';
import { measureSurface } from '../core/surface';
import { seamedFloor } from '../tests/shapes';
import { BuildUp } from './build-up';
import { Easel } from './easel';
import { SheetCopy, useProject, type Session } from './project';
import { CLOSED } from './project/project-store';
import { Header } from './shell/frame/Header';
import { keepEqual } from './shared/keep-equal';
import { EMPTY_HAND, useUi, useHover } from './shared/ui-store';
import { Tray } from './paint/Tray';

/** As they come by message: nothing is the same object. */
const sent = <T,>(data: T): T => structuredClone(data);

function paintedDocument(): ProjectDocument {
  let document: ProjectDocument = { ...newDocument('Test', oneSheet(512)), model: 'm' };
  for (let n = 0; n < 3; n++) {
    const { id } = document.layers.at(-1)!;
    document = applyToDocument(document, { do: 'duplicate-layers', layers: [id] }).document;
  }
  return document;
}

const session = { project: 'p', command: () => Promise.resolve(null) } as unknown as Session;

/** Nothing has a size here. */
class FakeObserver {
  observe = (): void => undefined;
  unobserve = (): void => undefined;
  disconnect = (): void => undefined;
}
Element.prototype.scrollIntoView = () => undefined;

let drawn: string[] = [];
const watched = (name: string, what: ReactNode): ReactNode => (
  <Profiler key={name} id={name} onRender={(id) => drawn.push(id)}>
    {what}
  </Profiler>
);

const mesh = seamedFloor();
const surface = measureSurface(mesh, [512]);

/** What is drawn anew while something happens, each part once. */
function drawnBy(happens: () => void): string[] {
  drawn = [];
  act(happens);
  return [...new Set(drawn)].sort();
}

/** The paint worker tells its state. */
const tellState = (document: ProjectDocument): void => {
  const { document: before, history } = useProject.getState();
  useProject.setState(keepEqual({ document: before, history }, sent({ document, history })));
};

beforeEach(() => {
  vi.stubGlobal('ResizeObserver', FakeObserver);
  const document = paintedDocument();
  useProject.setState({ ...CLOSED, status: 'ready', document, mesh, surface });
  useUi.setState({ ...EMPTY_HAND, target: { layer: document.layers[1]!.id, channel: 'pixels' } });
  render(
    <MemoryRouter>
      {watched('header', <Header id="p" stage="paint" session={session} />)}
      {watched('build-up', <BuildUp session={session} />)}
      {watched('easel', <Easel session={session} />)}
      {watched('tray', <Tray />)}
    </MemoryRouter>,
  );
});

afterEach(() => {
  cleanup();
  useProject.setState(CLOSED);
});

describe('what is drawn anew', () => {
  it('by a pointer that moves over the model: only what tells of the colour under it', () => {
    expect(drawnBy(() => useHover.setState({ under: { r: 10, g: 20, b: 30 } }))).toEqual(['easel']);
  });

  it('by a composited frame: nothing', () => {
    const copy = new SheetCopy(surface.sheets);
    const tiles = { tiles: [0], subs: [15], pixels: new Uint8Array(64 * 64 * 4), left: 0 };
    expect(
      drawnBy(() => {
        useProject.setState({ pending: 12 });
        copy.take(tiles);
        useProject.setState({ pending: 0 });
      }),
    ).toEqual([]);
  });

  it('by a state that tells nothing new: nothing', () => {
    expect(drawnBy(() => tellState(useProject.getState().document!))).toEqual([]);
  });

  it('by a layer that changes: the build-up, and in it the one row', () => {
    const { document } = useProject.getState();
    const [, one] = document!.layers;
    const { document: after } = applyToDocument(document!, {
      do: 'patch-layer',
      layer: one!.id,
      patch: { opacity: 0.5 },
    });
    expect(drawnBy(() => tellState(after))).toEqual(['build-up']);
    const now = useProject.getState().document!;
    expect(now.layers[1]).not.toBe(one);
    // What is the same object is memoised: its row isn't drawn.
    expect(now.layers.filter((layer, i) => layer === document!.layers[i])).toHaveLength(
      now.layers.length - 1,
    );
    expect(now.palette).toBe(document!.palette);
  });

  it('by a swatch that is added: the easel', () => {
    const { document } = useProject.getState();
    const { document: after } = applyToDocument(document!, {
      do: 'add-swatches',
      swatches: [{ name: 'Red', color: '#ff0000', group: '' }],
    });
    expect(drawnBy(() => tellState(after))).toContain('easel');
    expect(drawn).not.toContain('build-up');
    expect(drawn).not.toContain('tray');
  });

  it('by a brush that grows: the tray', () => {
    expect(drawnBy(() => useUi.setState((s) => ({ tray: s.tray.map((b) => ({ ...b, size: 99 })) })))).toEqual(
      ['tray'],
    );
  });
});

describe('equal parts', () => {
  it('are kept, whatever moved around them, and nothing else is', () => {
    const before = { a: [{ id: 1, x: [1, 2] }, { id: 2, x: [3] }], b: 'same' }; // prettier-ignore
    const moved = keepEqual(before, sent({ a: [before.a[1], before.a[0]], b: 'same' }));
    expect(moved.a[0]).toBe(before.a[1]);
    expect(moved.a[1]).toBe(before.a[0]);
    expect(keepEqual(before, sent(before))).toBe(before);
    const longer = keepEqual(before, { ...sent(before), c: 1 });
    expect(longer).not.toBe(before);
    expect(longer.a).toBe(before.a);
    expect(keepEqual(before, sent({ a: before.a }))).not.toBe(before);
    expect(keepEqual({ a: undefined }, { b: undefined })).toEqual({ b: undefined });
    const shorter = keepEqual(before, sent({ a: [before.a[0]], b: 'same' }));
    expect(shorter.a).toHaveLength(1);
    expect(shorter.a[0]).toBe(before.a[0]);
  });
});
