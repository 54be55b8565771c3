import { readFileMotion } from '../formats';
import type { Motion } from '../motion';
import type { Engine } from './engine';

/** How the file of an engine's model moves; read once and handed over. One that can't be read poses nothing. */
export async function readMotion(engine: Engine): Promise<Motion | null> {
  const needed = engine.motionNeeded();
  if (needed) engine.provideMotion(needed.id, await readFileMotion(needed.bytes).catch(() => null));
  return engine.motion;
}
