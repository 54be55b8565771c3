import { CoreError } from '../errors';
import { isGlb } from './picture-kind';
import { bare, nameWithoutEnding, type ModelFormat } from './model-format';

const PICTURES = ['png', 'jpg', 'jpeg', 'webp'];

export const glb: ModelFormat = {
  title: 'GLB',
  ending: 'glb',
  holds: isGlb,
  read: async ({ name, bytes, companions }) => {
    if (isGlb(bytes)) return (await import('./gltf/read')).readGltf(bytes, companions);
    throw new CoreError(
      'file-not-a-model',
      `“${name}” is named .glb but doesn't begin as one. Export the model again as GLB.`,
    );
  },
};

export const gltf: ModelFormat = {
  title: 'glTF',
  ending: 'gltf',
  companions: ['bin', ...PICTURES],
  holds: (bytes, ending) => ending !== 'obj' && looksLikeJson(bytes),
  read: async ({ name, bytes, companions }) => {
    if (parsesAsJson(bytes)) return (await import('./gltf/read')).readGltf(bytes, companions);
    throw new CoreError(
      'file-truncated',
      `“${name}” is not whole glTF: its JSON ends or breaks half-way. Copy or export it again.`,
    );
  },
};

export const obj: ModelFormat = {
  title: 'OBJ',
  ending: 'obj',
  companions: ['mtl', ...PICTURES],
  read: async ({ name, bytes, companions }) =>
    (await import('./obj')).readObj(new TextDecoder().decode(bytes), nameWithoutEnding(name), companions),
};

const isPly = (bytes: Uint8Array): boolean => startsWith(bytes, 'ply\n') || startsWith(bytes, 'ply\r');

export const ply: ModelFormat = {
  title: 'PLY',
  ending: 'ply',
  holds: isPly,
  read: async ({ name, bytes }) => {
    if (isPly(bytes)) return bare((await import('./ply')).readPly(bytes, nameWithoutEnding(name) || 'Part'));
    throw new CoreError(
      'file-not-a-model',
      `“${name}” is named .ply but doesn't begin as one. Export the model again.`,
    );
  },
};

export const stl: ModelFormat = {
  title: 'STL',
  ending: 'stl',
  read: async ({ name, bytes }) =>
    bare((await import('./stl')).readStl(bytes, nameWithoutEnding(name) || 'Part')),
};

const startsWith = (bytes: Uint8Array, text: string): boolean =>
  [...text].every((letter, i) => bytes[i] === letter.charCodeAt(0));

function looksLikeJson(bytes: Uint8Array): boolean {
  for (const b of bytes.subarray(0, 16)) {
    if (b === 0x7b) return true;
    if (b !== 0x20 && b !== 0x0a && b !== 0x0d && b !== 0x09 && b < 0xef) return false;
  }
  return false;
}

function parsesAsJson(bytes: Uint8Array): boolean {
  try {
    return typeof JSON.parse(new TextDecoder().decode(bytes)) === 'object';
  } catch {
    return false;
  }
}
