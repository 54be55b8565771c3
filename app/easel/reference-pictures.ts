import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useMemo } from 'react';
import { CoreError } from '../../core/errors';
import { pictureKind } from '../../core/formats';
import { bytesOf } from '../shared/files';
import { store } from '../shared/platform';
import type { Session } from '../project';

/** The largest side of a reference, in pixels: beyond it browsers refuse canvases. */
const MAX_SIDE = 8192;

/** Puts a picture on the easel. @returns its id; null if it was refused, which is told. @throws CoreError `file-empty`, `file-not-a-picture` or `storage-full` */
export async function addReference(session: Session, file: File): Promise<number | null> {
  const bytes = await bytesOf(file);
  if (bytes.length === 0)
    throw new CoreError('file-empty', `“${file.name}” is empty (0 bytes). Copy it again.`);
  if (!pictureKind(bytes)) {
    throw new CoreError(
      'file-not-a-picture',
      `“${file.name}” is not a picture that can be read. Use PNG, JPEG or WebP.`,
    );
  }
  let width: number;
  let height: number;
  try {
    const bitmap = await createImageBitmap(new Blob([bytes as Uint8Array<ArrayBuffer>]));
    ({ width, height } = bitmap);
    bitmap.close();
  } catch (cause) {
    throw new CoreError(
      'file-not-a-picture',
      `“${file.name}” can't be opened; it may be cut off. Export it again.`,
      { cause },
    );
  }
  if (Math.max(width, height) > MAX_SIDE) {
    throw new CoreError(
      'file-not-a-picture',
      `“${file.name}” is ${width} x ${height}; up to ${MAX_SIDE} pixels a side can be shown. Make it smaller.`,
    );
  }
  const name = file.name.replace(/\.[^.]+$/, '').slice(0, 120) || 'Reference';
  const done = await session.attach({ do: 'add-reference', reference: { name, width, height } }, bytes);
  return done?.ids[0] ?? null;
}

/** Address of a reference's picture, null until it is loaded. */
export function useReferenceUrl(project: string, id: number | null): string | null {
  const row = useLiveQuery(
    async () => (id === null ? null : await store.pictures.get([project, id])),
    [project, id],
  );
  const url = useMemo(
    () => (row ? URL.createObjectURL(new Blob([row.bytes as Uint8Array<ArrayBuffer>])) : null),
    [row],
  );
  useEffect(() => () => void (url && URL.revokeObjectURL(url)), [url]);
  return url;
}
