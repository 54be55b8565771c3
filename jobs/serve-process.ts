import { sentenceOf } from '../core/errors';
import type { Told } from './process-pool';

/** Does one thing after the other as a pool asks for them, until nobody asks any more. What goes wrong is told in a sentence. */
export function serveProcess<Q extends object, A>(
  work: (question: Q, onProgress: (done: number) => void) => Promise<A> | A,
): void {
  const tell = (said: Told<A>): void => void process.send?.(said);
  process.on('message', (question: Q) => {
    void (async () => {
      try {
        tell({ answer: await work(question, (progress) => tell({ progress })) });
      } catch (error) {
        tell({ problem: sentenceOf(error).replace(/\s*\n\s*/g, ' ') });
      }
    })();
  });
  process.on('disconnect', () => process.exit());
}
