import { doShellJob, type ShellJob } from '../core/unwrap';
import { serveProcess } from './serve-process';

// Works on one shell of a model after the other.
serveProcess((job: ShellJob) => doShellJob(job, () => undefined));
