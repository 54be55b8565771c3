import { atlasCommand } from './atlas';
import { buildCommand } from './build';
import { checkCommand } from './check';
import { cueCommand } from './cue';
import { deliverCommand } from './deliver';
import { inspectCommand } from './inspect';
import { layoutCommand } from './layout';
import { matchCommand } from './match';
import type { CliCommand } from './options';
import { paletteCommand } from './palette';
import { rampCommand } from './ramp';
import { unwrapCommand } from './unwrap';

export const CLI_COMMANDS: readonly CliCommand[] = [
  inspectCommand,
  cueCommand,
  unwrapCommand,
  layoutCommand,
  buildCommand,
  deliverCommand,
  checkCommand,
  atlasCommand,
  paletteCommand,
  rampCommand,
  matchCommand,
];
