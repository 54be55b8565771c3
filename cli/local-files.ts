import { readFile, realpath, stat } from 'node:fs/promises';
import { basename, dirname, isAbsolute, join, relative } from 'node:path';
import { isGlb } from '../core/formats';
import { FileSet, namedIn, type Job } from '../jobs';
import { UsageError } from './options';

/** Nothing larger is read: it couldn't be worked on. */
const LARGEST = 2e9;

/** @throws UsageError if the file can't be opened, is none, or is too large */
export async function readBytes(file: string): Promise<Uint8Array> {
  try {
    const { size, ...is } = await statOf(file);
    if (is.isFolder) throw new UsageError(`“${file}” is a folder. Name a file in it.`);
    if (!is.isFile) throw new UsageError(`“${file}” is no plain file. Name one.`);
    if (size > LARGEST)
      throw new UsageError(`“${file}” has ${Math.round(size / 1e6)} MB; up to ${LARGEST / 1e6} are read.`);
    return new Uint8Array(await readFile(file));
  } catch (error) {
    if (error instanceof UsageError) throw error;
    const { code } = error as { code?: string };
    throw new UsageError(
      code === 'ENOENT' ? `There is no file “${file}”.` : `“${file}” can't be opened (${code ?? 'unknown'}).`,
    );
  }
}

async function statOf(file: string): Promise<{ size: number; isFile: boolean; isFolder: boolean }> {
  const found = await stat(file);
  return { size: found.size, isFile: found.isFile(), isFolder: found.isDirectory() };
}

/**
 * Files that a glTF speaks of, by their own names. Only plain files that lie in the model's own folder, wherever links lead: a model that was
 * fetched from elsewhere takes nothing else of this machine into what is made of it.
 */
export async function companionsOf(file: string, bytes: Uint8Array): Promise<Map<string, Uint8Array>> {
  const out = new Map<string, Uint8Array>();
  if (!/\.(gltf|glb)$/i.test(file)) return out;
  const folder = await realpath(dirname(file));
  for (const uri of urisOf(bytes)) {
    const path = await realpath(join(folder, decoded(uri))).catch(() => null);
    if (!path) continue;
    const way = relative(folder, path);
    if (way.startsWith('..') || isAbsolute(way)) continue;
    const found = await readBytes(path).catch(() => null);
    if (found) out.set(basename(path), found);
  }
  return out;
}

function decoded(uri: string): string {
  try {
    return decodeURIComponent(uri);
  } catch {
    return uri;
  }
}

function urisOf(bytes: Uint8Array): string[] {
  // In a GLB the JSON follows twelve bytes of header and the chunk's own length and type (glTF 2.0, section 4.4).
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const isPacked = isGlb(bytes) && bytes.length >= 20;
  const text = new TextDecoder().decode(isPacked ? bytes.subarray(20, 20 + view.getUint32(12, true)) : bytes);
  return [...text.matchAll(/"uri"\s*:\s*"(?!data:)([^"]+)"/g)].map((m) => m[1]!);
}

/** All that a job names, as it is named, with what its model speaks of. @throws UsageError */
export async function filesOf(job: Job): Promise<FileSet> {
  const files = new Map<string, Uint8Array>();
  for (const name of namedIn(job)) files.set(name, await readBytes(name));
  if ('model' in job)
    for (const [name, bytes] of await companionsOf(job.model, files.get(job.model)!))
      if (!files.has(name)) files.set(name, bytes);
  return new FileSet(files);
}
