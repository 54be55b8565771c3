import { doComponentJob, type ComponentJob } from '../core/unwrap';
import { serveProcess } from './serve-process';

// Works on one shell of a model after the other.
serveProcess((job: ComponentJob) => doComponentJob(job, () => undefined));
