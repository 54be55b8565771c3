import { Logger, Primitive, WebIO, type Document, type Node } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { MeshoptDecoder } from 'meshoptimizer';
import { CoreError } from '../../errors';
import type { Motion } from '../../motion';
import { copyOf, resourcesOf, unpackGltf, type Companions, type GltfParts } from './container';
import { dracoDecoder } from './draco';
import { motionOf } from './motion-of';
import type { Slot } from './slot';

/** A glTF whose accessors can be read as numbers. */
export interface OpenGltf {
  readonly parts: GltfParts;
  readonly document: Document;
  readonly slots: readonly Slot[];
  /** Its pieces are the slots. */
  readonly motion: Motion;
  readonly beside: ReturnType<typeof resourcesOf>;
}

/** @throws CoreError `file-truncated`, `file-unsupported` */
export async function openGltf(bytes: Uint8Array, companions: Companions): Promise<OpenGltf> {
  await MeshoptDecoder.ready;
  // What is missing is told by us, in a sentence.
  const io = new WebIO()
    .setLogger(new Logger(Logger.Verbosity.SILENT))
    .registerExtensions(ALL_EXTENSIONS)
    .registerDependencies({ 'meshopt.decoder': MeshoptDecoder });
  return orUnreadable(bytes, async () => {
    const parts = unpackGltf(bytes);
    const beside = resourcesOf(parts, companions);
    if (parts.json.extensionsUsed?.includes('KHR_draco_mesh_compression'))
      io.registerDependencies({ 'draco3d.decoder': await dracoDecoder() });
    const document = await io.readJSON({
      json: copyOf(parts.json),
      resources: { ...beside.resources },
    });
    // What the file says of its nodes and materials may be wrong as well.
    const slots = slotsOf(document);
    return { parts, document, slots, motion: motionOf(document, slots), beside };
  });
}

/** Reads of a file that may say anything. @throws CoreError `file-truncated`, `file-unsupported` */
export async function orUnreadable<T>(bytes: Uint8Array, read: () => T | Promise<T>): Promise<T> {
  try {
    return await read();
  } catch (cause) {
    throw cause instanceof CoreError ? cause : unreadable(bytes, cause);
  }
}

/** What the scene draws, from its first node down. @throws CoreError `file-truncated` if nodes stand in a ring */
function slotsOf(document: Document): Slot[] {
  const root = document.getRoot();
  const [nodes, meshes] = [root.listNodes(), root.listMeshes()];
  const numberOf = new Map([...nodes.entries()].map(([i, node]) => [node, i]));
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  const roots = scene ? scene.listChildren() : nodes.filter((n) => !n.getParentNode());
  const slots: Slot[] = [];
  const met = new Set<Node>();
  // By a list of what is still to be done: nodes may be nested as deep as a file likes.
  const waiting = [...roots].reverse();
  for (let node = waiting.pop(); node; node = waiting.pop()) {
    if (met.has(node)) {
      throw new CoreError(
        'file-truncated',
        `The glTF is damaged: its node “${node.getName()}” stands under itself, or under two others. Export the model again.`,
      );
    }
    met.add(node);
    const mesh = node.getMesh();
    for (const [p, primitive] of mesh?.listPrimitives().entries() ?? []) {
      const corners = Uint32Array.from(cornersOf(primitive));
      if (corners.length === 0 || !primitive.getAttribute('POSITION')) continue;
      const at = { node: numberOf.get(node)!, mesh: meshes.indexOf(mesh!), primitive: p };
      slots.push({ at, node, primitive, corners });
    }
    waiting.push(...node.listChildren().reverse());
  }
  return slots;
}

/** Three vertices a triangle, whatever the primitive's mode; empty for points and lines. */
function cornersOf(primitive: Primitive): number[] {
  const count = primitive.getIndices()?.getCount() ?? primitive.getAttribute('POSITION')?.getCount() ?? 0;
  const list = primitive.getIndices()?.getArray();
  const at = (i: number): number => (list ? list[i]! : i);
  const out: number[] = [];
  const mode = primitive.getMode();
  if (mode === Primitive.Mode.TRIANGLES) {
    for (let i = 0; i + 2 < count; i += 3) out.push(at(i), at(i + 1), at(i + 2));
  } else if (mode === Primitive.Mode.TRIANGLE_STRIP) {
    for (let i = 0; i + 2 < count; i++) {
      out.push(at(i), at(i + 1 + (i % 2)), at(i + 2 - (i % 2)));
    }
  } else if (mode === Primitive.Mode.TRIANGLE_FAN) {
    for (let i = 1; i + 1 < count; i++) out.push(at(i), at(i + 1), at(0));
  }
  return out;
}

/** Why a glTF can't be read, as far as its first words tell. */
function unreadable(bytes: Uint8Array, cause: unknown): CoreError {
  // The JSON stands first in a GLB too; a few kilobytes of it name the version and the extensions.
  const head = new TextDecoder().decode(bytes.subarray(0, 200_000));
  if (/"version"\s*:\s*"1\./.test(head)) {
    return new CoreError(
      'file-unsupported',
      'This is glTF 1.0; version 2.0 is needed. Export the model again as glTF 2.0 or GLB.',
      { cause },
    );
  }
  const missing = /extension, "([^"]+)"/.exec(cause instanceof Error ? cause.message : '')?.[1];
  if (missing) {
    return new CoreError(
      'file-unsupported',
      `The glTF needs the extension ${missing}, which can’t be read. Export it again without it.`,
      { cause },
    );
  }
  return new CoreError(
    'file-truncated',
    'The glTF is damaged: its parts don’t fit together. Export the model again as GLB.',
    { cause },
  );
}
