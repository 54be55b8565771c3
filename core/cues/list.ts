import { alongKind } from './kinds/along';
import { bounceKind } from './kinds/bounce';
import { castKind } from './kinds/cast';
import { creaseKind, ridgeKind } from './kinds/curvature';
import { facingKind } from './kinds/facing';
import { grainKind } from './kinds/grain';
import { heightKind } from './kinds/height';
import { nearnessKind } from './kinds/nearness';
import { occlusionKind } from './kinds/occlusion';
import { thicknessKind } from './kinds/thickness';

/** Every way to measure form. A new one is a file in `kinds/` and a line here. */
export const CUES = [
  occlusionKind,
  heightKind,
  facingKind,
  ridgeKind,
  creaseKind,
  nearnessKind,
  alongKind,
  castKind,
  thicknessKind,
  grainKind,
  bounceKind,
] as const;
