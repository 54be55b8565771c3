import { collectDefaultMetrics, Counter, Gauge, Registry } from 'prom-client';
import { JOB_STATES, type JobDriver } from './job-driver';

/** What is told to whoever watches over the server, in the text form of Prometheus. */
export interface ServerMetrics {
  readonly registry: Registry;
  readonly taken: Counter<'job'>;
}

export function serverMetrics(driver: JobDriver): ServerMetrics {
  const registry = new Registry();
  collectDefaultMetrics({ register: registry });
  const taken = new Counter({
    name: 'zanahoria_jobs_taken_total',
    help: 'Jobs that were let in, by what they do.',
    labelNames: ['job'] as const,
    registers: [registry],
  });
  new Gauge({
    name: 'zanahoria_jobs',
    help: 'Jobs by their state.',
    labelNames: ['state'] as const,
    registers: [registry],
    async collect() {
      const counts = await driver.counts().catch(() => null);
      if (counts) for (const state of JOB_STATES) this.set({ state }, counts[state]);
      else this.reset();
    },
  });
  return { registry, taken };
}
