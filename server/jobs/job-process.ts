import { serveProcess } from '../../jobs';
import { runJob } from './run-job';

/** A job as it was sent. */
export interface SentBytes {
  readonly bytes: Uint8Array;
}

// One job after the other, in a process of its own: what goes wrong there ends no other.
serveProcess(({ bytes }: SentBytes, onProgress) => runJob(bytes, onProgress));
