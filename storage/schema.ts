import { Dexie, type EntityTable, type Table } from 'dexie';
import type { HistoryStep } from '../core/history';
import type { PackedTiles } from '../core/pixels';
import type { UvMesh } from '../core/mesh';

export interface ProjectRow {
  readonly id: string;
  readonly name: string;
  readonly createdAt: number;
  readonly updatedAt: number;
  /** When it was thrown away; it is wiped at the next start. */
  readonly deletedAt: number | null;
  /** Of whatever version it was written by: see `parseDocument`. */
  readonly document: unknown;
  readonly modelHash: string;
  /** Steps from the project's beginning on that are done. */
  readonly historyDone: number;
  /** Number of the last call of the session named that is in what is stored here. */
  readonly journal?: { readonly session: string; readonly call: number };
  readonly picture: Blob | null;
}

export interface TileRow {
  readonly project: string;
  /** Number of the plane. */
  readonly layer: number;
  readonly tile: number;
  /** Older rows hold a tile as it is, newer ones packed: see `packPixels`. */
  readonly bytes?: Uint8Array;
  readonly deflated?: Uint8Array;
}

export interface StrokeRow {
  readonly project: string;
  /** Number of the plane. */
  readonly layer: number;
  readonly number: number;
  /** Of whatever version it was written by: see `todaysStroke`. */
  readonly stroke: unknown;
}

export interface HistoryRow {
  readonly project: string;
  readonly index: number;
  /** As older versions wrote it: the whole documents before and after, and the pixels. */
  readonly entry?: unknown;
  /** All of it but its pixels, which stand in a row of their own. */
  readonly step?: Omit<HistoryStep, 'tiles'> & { readonly hasTiles: boolean };
  /** Hashes of the models that the step needs. */
  readonly models: readonly string[];
}

/** The pixels of a step. */
export interface PageRow {
  readonly project: string;
  readonly index: number;
  readonly tiles: PackedTiles;
}

export interface PictureRow {
  readonly project: string;
  readonly id: number;
  readonly bytes: Uint8Array;
}

/** Something measured, under the hash of what it was made from. */
export interface MapRow {
  readonly key: string;
  readonly usedAt: number;
  readonly bytes: number;
  readonly data: unknown;
}

/** A recipe that was kept for every project; read through `parseRecipe`. */
export interface RecipeRow {
  readonly id: string;
  readonly addedAt: number;
  readonly recipe: unknown;
}

/** A ramp sheet that several projects share; read through a schema of its own. */
export interface RampSheetRow {
  readonly id: string;
  readonly name: string;
  readonly state: number;
  readonly size: unknown;
  readonly lie: unknown;
  readonly ramps: unknown;
}

/** Projects that share something; read through `parseSet`. */
export interface SetRow {
  readonly id: string;
  readonly name: string;
  readonly updatedAt: number;
  readonly set: unknown;
}

/** A picture that sets share, under the hash of its content. */
export interface SetPictureRow {
  readonly hash: string;
  readonly bytes: Uint8Array;
}

/** The folder in which a copy of a project is kept. */
export interface FolderRow {
  readonly project: string;
  readonly folder: FileSystemDirectoryHandle;
}

/** Everything that is kept in this browser. */
export class ProjectStore extends Dexie {
  declare projects: EntityTable<ProjectRow, 'id'>;
  declare models: Table<{ hash: string; mesh: UvMesh }, string>;
  declare tiles: Table<TileRow, [string, number, number]>;
  declare strokes: Table<StrokeRow, [string, number, number]>;
  declare history: Table<HistoryRow, [string, number]>;
  declare pages: Table<PageRow, [string, number]>;
  /** What came as files: references, patterns, denser models. */
  declare pictures: Table<PictureRow, [string, number]>;
  declare maps: Table<MapRow, string>;
  declare recipes: Table<RecipeRow, string>;
  declare rampSheets: Table<RampSheetRow, string>;
  declare folders: Table<FolderRow, string>;
  declare sets: EntityTable<SetRow, 'id'>;
  declare setPictures: Table<SetPictureRow, string>;

  constructor(name = 'zanahoria') {
    super(name);
    this.version(1).stores({
      projects: 'id, updatedAt',
      models: 'hash',
      tiles: '[project+layer+tile], project, [project+layer]',
      strokes: '[project+layer+number], project, [project+layer]',
      history: '[project+index], project',
      pictures: '[project+id], project',
      maps: 'key, usedAt',
    });
    this.version(2).stores({ history: '[project+index], project, *models' });
    this.version(3).stores({ pages: '[project+index], project' });
    this.version(4).stores({ recipes: 'id' });
    this.version(5).stores({ folders: 'project' });
    this.version(6).stores({ rampSheets: 'id' });
    this.version(7).stores({ sets: 'id, updatedAt', setPictures: 'hash' });
  }
}
