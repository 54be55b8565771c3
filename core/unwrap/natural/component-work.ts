import type { FlatChart } from '../flatten/flatten';
import { layComponent, type LayTask } from './lay-component';
import { planComponent, type PlanTask } from './plan-component';
import type { PlannedComponent } from './component';

/**
 * Work on one shell. It depends on nothing but what it is given and is plain data, as its answer is: shells may be worked on side by side, by
 * several workers.
 */
export type ComponentJob =
  { readonly do: 'plan'; readonly task: PlanTask } | { readonly do: 'lay'; readonly task: LayTask };
export type ComponentAnswer = PlannedComponent | readonly FlatChart[];

/** Jobs of which none waits for another. */
export interface Batch {
  readonly jobs: readonly ComponentJob[];
  /** Told what part of all of them is done. */
  readonly onProgress: (done: number) => void;
}

/** Long work that stops wherever shells are to be worked on, and goes on with the answers, in the order of the jobs. */
export type Working<T> = Generator<Batch, T, readonly ComponentAnswer[]>;

export function doComponentJob(job: ComponentJob, onProgress: (done: number) => void): ComponentAnswer {
  return job.do === 'plan' ? planComponent(job.task, onProgress) : layComponent(job.task, onProgress);
}

/** How much work a job is beside others. */
const sizeOf = ({ task }: ComponentJob): number => task.component.faces.length;

/** Of fewer triangles, asking others takes longer than it saves. */
const WORTH_HELP = 3000;

/** Does all of it here, one shell after the other. */
export function doneHere<T>(working: Working<T>): T {
  let step = working.next();
  while (!step.done) step = working.next(answersHere(step.value));
  return step.value;
}

/**
 * Does it with the help of others, where there is enough to do; the result is the same.
 *
 * @param run does one job somewhere; it is asked for all jobs of a batch at once, the largest first
 */
export async function doneAside<T>(
  working: Working<T>,
  run: (job: ComponentJob, onProgress: (done: number) => void) => Promise<ComponentAnswer>,
): Promise<T> {
  let step = working.next();
  while (!step.done) {
    const { jobs } = step.value;
    const isLarge = jobs.length > 1 && jobs.reduce((sum, job) => sum + sizeOf(job), 0) > WORTH_HELP;
    step = working.next(isLarge ? await answersAside(step.value, run) : answersHere(step.value));
  }
  return step.value;
}

function answersHere({ jobs, onProgress }: Batch): ComponentAnswer[] {
  const progress = new SharedProgress(jobs, onProgress);
  return jobs.map((job, i) => {
    const answer = doComponentJob(job, (done) => progress.tell(i, done));
    progress.tell(i, 1);
    return answer;
  });
}

async function answersAside(
  { jobs, onProgress }: Batch,
  run: Parameters<typeof doneAside>[1],
): Promise<ComponentAnswer[]> {
  const progress = new SharedProgress(jobs, onProgress);
  const answers = new Array<ComponentAnswer>(jobs.length);
  const order = [...jobs.keys()].sort((a, b) => sizeOf(jobs[b]!) - sizeOf(jobs[a]!) || a - b);
  await Promise.all(
    order.map(async (i) => {
      answers[i] = await run(jobs[i]!, (done) => progress.tell(i, done));
      progress.tell(i, 1);
    }),
  );
  return answers;
}

/** What part of several jobs is done, by their sizes. */
class SharedProgress {
  private readonly jobs: readonly ComponentJob[];
  private readonly onProgress: (done: number) => void;
  private readonly done: Float64Array;
  private readonly all: number;

  constructor(jobs: readonly ComponentJob[], onProgress: (done: number) => void) {
    this.jobs = jobs;
    this.onProgress = onProgress;
    this.done = new Float64Array(jobs.length);
    this.all = jobs.reduce((sum, job) => sum + sizeOf(job), 0) || 1;
  }

  tell(i: number, part: number): void {
    this.done[i] = Math.max(this.done[i]!, part);
    this.onProgress(this.jobs.reduce((sum, job, k) => sum + this.done[k]! * sizeOf(job), 0) / this.all);
  }
}

/** Plans several shells. */
export function* planned(
  tasks: readonly PlanTask[],
  onProgress: (done: number) => void,
): Working<readonly PlannedComponent[]> {
  const jobs = tasks.map((task): ComponentJob => ({ do: 'plan', task }));
  return (yield { jobs, onProgress }) as readonly PlannedComponent[];
}

/** Lays several shells out. */
export function* laidOut(
  tasks: readonly LayTask[],
  onProgress: (done: number) => void,
): Working<readonly (readonly FlatChart[])[]> {
  const jobs = tasks.map((task): ComponentJob => ({ do: 'lay', task }));
  return (yield { jobs, onProgress }) as readonly (readonly FlatChart[])[];
}
