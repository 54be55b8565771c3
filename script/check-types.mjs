// Checks every folder with its own tsconfig, two at a time, so that no folder uses what isn't its own.
import { spawn } from 'node:child_process';

const waiting = ['app', 'tests', 'workers', 'storage', 'core', 'demo', 'bench', 'cli', 'server', 'jobs'];
let failed = false;

/** @returns when there is nothing left to check */
async function work() {
  for (let folder = waiting.shift(); folder; folder = waiting.shift()) {
    const check = spawn('node_modules/.bin/tsc', [
      '-p',
      folder,
      '--incremental',
      '--tsBuildInfoFile',
      `.cache/types/${folder}.tsbuildinfo`,
    ]);
    check.stdout.pipe(process.stdout);
    check.stderr.pipe(process.stderr);
    const code = await new Promise((resolve) => check.on('close', resolve));
    if (code !== 0) failed = true;
  }
}

await Promise.all([work(), work()]);
process.exit(failed ? 1 : 0);
