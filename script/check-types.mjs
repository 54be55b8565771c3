// Checks every folder with its own tsconfig, so that no folder uses what isn't its own.
import { spawnSync } from 'node:child_process';

let failed = false;
for (const folder of ['core', 'workers', 'app', 'server', 'cli', 'demo', 'bench', 'tests']) {
  const { status, stdout } = spawnSync('node_modules/.bin/tsc', ['-p', folder], { encoding: 'utf8' });
  if (status !== 0) {
    failed = true;
    console.log(stdout);
  }
}
process.exit(failed ? 1 : 0);
