import { doShellJob, type ShellJob } from '../core/unwrap';

// Works on one shell after the other as they are asked for, until nobody asks any more.
process.on('message', (job: ShellJob) => {
  process.send?.(doShellJob(job, () => undefined));
});
