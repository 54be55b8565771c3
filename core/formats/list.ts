import { glb, gltf, obj, ply, stl } from './model-formats';
import type { ModelFormat } from './model-format';

/** Every format that models are read from; readers are fetched when they are needed. A new one is a reader, what is told of it, and a line here. */
export const MODEL_FORMATS: readonly ModelFormat[] = [glb, gltf, obj, ply, stl];
