import type { MessagePort } from 'node:worker_threads';
import { sentenceOf } from '../../core/errors';
import { runJob } from './run-job';

/** What a thread of the pool answers: an error's sentence is all that leaves it. */
export type ThreadAnswer = { readonly zip: Uint8Array } | { readonly problem: string };

/** What a thread is given: a job, and where it tells how far it is, 0..1. */
export interface ThreadTask {
  readonly bytes: Uint8Array;
  readonly port: MessagePort;
}

/** One job, on a thread of its own: what goes wrong there ends no other. */
export default async function doOne({ bytes, port }: ThreadTask): Promise<ThreadAnswer> {
  try {
    return { zip: await runJob(bytes, (done) => port.postMessage(done)) };
  } catch (error) {
    return { problem: sentenceOf(error).replace(/\s*\n\s*/g, ' ') };
  } finally {
    port.close();
  }
}
