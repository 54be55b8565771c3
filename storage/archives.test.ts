import 'fake-indexeddb/auto';
import { readFileSync } from 'node:fs';
import { unzipSync, zipSync } from 'fflate';
import { beforeEach, describe, expect, it } from 'vitest';
import { newDocument } from '../core/document';
import { readProjectFile, type ProjectData } from '../core/project-file';
import { contentHash } from '../core/math';
import { NOTHING_SHARED, parseSet, SET_VERSION, type AssetSet } from '../core/set';
import { seamedFloor } from '../tests/shapes';
import { backUp, restore } from './archives';
import { addProject, loadProject, ProjectStore } from '.';
import { SetSession } from '../workers/set-session';

let databases = 0;
let store: ProjectStore;

beforeEach(() => {
  store = new ProjectStore(`archive ${databases++}`);
});

const project = (name: string): ProjectData => ({
  document: newDocument(name, 128),
  mesh: seamedFloor(),
  pixels: [],
  strokes: new Map(),
  files: new Map(),
});

const PICTURE = Uint8Array.of(1, 2, 3);

/** Two projects, one of them with a picture of every form that was ever written; a set of both. */
async function filled(): Promise<void> {
  await addProject(store, 'a', project('Floor'), 1);
  await addProject(store, 'b', readProjectFile(readFileSync('tests/fixtures/v12/plate.project.zip')), 2);
  const hash = contentHash(PICTURE);
  const set: AssetSet = {
    version: SET_VERSION,
    id: 's',
    name: 'Both',
    projects: ['b', 'a'],
    scales: [['a', 0.5]],
    shared: { ...NOTHING_SHARED, references: [{ name: 'R', width: 1, height: 1, hash }] },
  };
  await store.sets.put({ id: 's', name: 'Both', updatedAt: 3, set });
  await store.setPictures.put({ hash, bytes: PICTURE });
  await store.recipes.put({
    id: 'r',
    addedAt: 1,
    recipe: JSON.parse(readFileSync('tests/fixtures/v12/plate.recipe.json', 'utf8')),
  });
}

async function backedUp(projects = ['a', 'b'], sets = ['s']) {
  const desk = new SetSession(store);
  const fileOf = (id: string) => desk.projectFile({ project: id });
  const { file, problems } = await backUp(store, { projects, sets }, fileOf, () => undefined);
  return { bytes: new Uint8Array(await file.arrayBuffer()), problems };
}

describe('a backup of all projects', () => {
  it('is put back whole in another browser: projects, their set, its pictures and recipes', async () => {
    await filled();
    const { bytes, problems } = await backedUp();
    expect(problems).toEqual([]);
    const before = await loadProject(store, 'b');
    store = new ProjectStore(`archive ${databases++}`);
    const put = await restore(store, bytes, 100, () => undefined);
    expect(put.problems).toEqual([]);
    const rows = await store.projects.orderBy('updatedAt').reverse().toArray();
    expect(rows.map((r) => r.name)).toEqual(['Floor', before.document.name]);
    const after = await loadProject(store, rows[1]!.id);
    expect(after.strokes).toEqual(before.strokes);
    expect(after.pixels.length).toBe(before.pixels.length);
    expect({ ...after.document, model: '' }).toEqual({ ...before.document, model: '' });
    const set = parseSet((await store.sets.get(put.sets[0]!))!.set);
    expect(set.projects).toEqual([rows[1]!.id, rows[0]!.id]);
    expect(set.scales).toEqual([[rows[0]!.id, 0.5]]);
    expect((await store.setPictures.get(contentHash(PICTURE)))!.bytes).toEqual(PICTURE);
    expect(await store.recipes.count()).toBe(1);
  });

  it('put back where all of it is already adds projects, and no recipe twice', async () => {
    await filled();
    const { bytes } = await backedUp();
    await restore(store, bytes, 100, () => undefined);
    expect(await store.projects.count()).toBe(4);
    expect(await store.recipes.count()).toBe(1);
  });

  it('leaves out what is damaged, and says so', async () => {
    await filled();
    await store.models.clear();
    const { bytes, problems } = await backedUp();
    expect(problems).toHaveLength(2);
    expect(problems[0]).toContain('“Floor” is not in it: The model of this project is missing');
    expect(unzipSync(bytes)['archive.json']).toBeDefined();
  });

  it('of which one project is damaged gives the others back', async () => {
    await filled();
    const { bytes } = await backedUp();
    const files = unzipSync(bytes);
    files['projects/001-floor.zip'] = files['projects/001-floor.zip']!.slice(0, 40);
    const damaged = zipSync(
      Object.fromEntries(Object.entries(files).map(([n, b]) => [n, [b, { level: 0 }]])),
    );
    store = new ProjectStore(`archive ${databases++}`);
    const put = await restore(store, damaged, 100, () => undefined);
    expect(put.projects).toHaveLength(1);
    expect(put.problems[0]).toContain('“Floor” could not be put back');
    expect(parseSet((await store.sets.get(put.sets[0]!))!.set).projects).toEqual(put.projects);
  });
});

describe('a project in a backup whose model is damaged', () => {
  it('is named, and those after it come back', async () => {
    await filled();
    const { bytes } = await backedUp();
    const files = unzipSync(bytes);
    const first = unzipSync(files['projects/001-floor.zip']!);
    first['model.json'] = first['model.json']!.slice(0, 30);
    files['projects/001-floor.zip'] = zipSync(first);
    store = new ProjectStore(`archive ${databases++}`);
    const put = await restore(store, zipSync(files), 100, () => undefined);
    expect(put.projects).toHaveLength(1);
    expect(put.problems[0]).toContain('“model.json” in the project file is damaged');
  });
});

describe('projects that follow their set', () => {
  it('are compared, shown as they would become, and changed as a step that is kept', async () => {
    await addProject(store, 'a', project('Floor'), 1);
    const desk = new SetSession(store);
    const bytes = Uint8Array.from(readFileSync('tests/fixtures/v12/plate.png'));
    const hash = contentHash(bytes);
    await store.setPictures.put({ hash, bytes });
    const set: AssetSet = {
      version: SET_VERSION,
      id: 's',
      name: 'One',
      projects: ['a'],
      scales: [],
      shared: {
        ...NOTHING_SHARED,
        palette: [{ name: 'Glow', color: '#ffcc66', group: '' }],
        references: [{ name: 'Plate', width: 8, height: 8, hash }],
      },
    };
    expect(await desk.differsIn({ project: 'a', set })).toEqual(['palette', 'references']);
    const would = await desk.wouldFollow({ project: 'a', set, kinds: ['palette'] }, () => undefined);
    expect(would.says).toEqual(['1 swatch is added']);
    expect(would.changed).toBe(0);
    expect((await loadProject(store, 'a')).document.palette).toEqual([]);
  });
});
