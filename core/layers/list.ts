import { adjustKind } from './adjust';
import { decalKind } from './decal';
import { inkKind } from './ink';
import { lightKind } from './light';
import { localKind } from './local';
import { paintKind } from './paint';
import { patternKind } from './pattern';
import { toneKind } from './tone';
import { washKind } from './wash';

/** Every kind of layer. A new one is a file beside these and a line here. */
export const LAYER_KINDS = [
  localKind,
  washKind,
  lightKind,
  toneKind,
  patternKind,
  decalKind,
  inkKind,
  paintKind,
  adjustKind,
] as const;
