import { Dexie, type EntityTable, type Table } from 'dexie';
import type { HistoryEntry, ProjectDocument } from '../core/engine';
import type { Stroke } from '../core/paint';
import type { UvMesh } from '../core/mesh';

export interface ProjectRow {
  readonly id: string;
  readonly name: string;
  readonly createdAt: number;
  readonly updatedAt: number;
  /** When it was thrown away; it is wiped at the next start. */
  readonly deletedAt: number | null;
  readonly document: ProjectDocument;
  readonly modelHash: string;
  readonly historyDone: number;
  readonly picture: Blob | null;
}

export interface TileRow {
  readonly project: string;
  readonly layer: number;
  readonly tile: number;
  readonly bytes: Uint8Array;
}

export interface StrokeRow {
  readonly project: string;
  readonly layer: number;
  readonly number: number;
  readonly stroke: Stroke;
}

export interface HistoryRow {
  readonly project: string;
  readonly index: number;
  readonly entry: HistoryEntry;
  /** Hashes of the models that the step needs. */
  readonly models: readonly string[];
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

/** Everything that is kept in this browser. */
export class ProjectStore extends Dexie {
  declare projects: EntityTable<ProjectRow, 'id'>;
  declare models: Table<{ hash: string; mesh: UvMesh }, string>;
  declare tiles: Table<TileRow, [string, number, number]>;
  declare strokes: Table<StrokeRow, [string, number, number]>;
  declare history: Table<HistoryRow, [string, number]>;
  declare pictures: Table<PictureRow, [string, number]>;
  declare maps: Table<MapRow, string>;

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
  }
}
