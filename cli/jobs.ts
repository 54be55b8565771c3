import { buildModel, type BuildJob } from './build-model';
import { checkModel, type CheckJob } from './check-model';
import { deliverProject, type DeliverJob } from './deliver-project';
import { matchModel, type MatchJob } from './match-model';

/** One thing that is done to one of many models. */
export type Job =
  | { readonly do: 'build'; readonly job: BuildJob }
  | { readonly do: 'check'; readonly job: CheckJob }
  | { readonly do: 'deliver'; readonly job: DeliverJob }
  | { readonly do: 'match'; readonly job: MatchJob };

/** What of a result stands in the summary of many. */
export type JobFigures = Readonly<Record<string, unknown>>;

/** Does a job and writes what it makes. @throws UsageError, CoreError, OutputError with a sentence */
export async function doJob(job: Job, onProgress?: (done: number) => void): Promise<JobFigures> {
  switch (job.do) {
    case 'build': {
      const { texelHash } = await buildModel(job.job, onProgress);
      return { texelHash };
    }
    case 'check': {
      const { ok, findings } = await checkModel(job.job, onProgress);
      return { ok, findings: findings.map((f) => f.says) };
    }
    case 'deliver': {
      const { texelHash } = await deliverProject(job.job, onProgress);
      return { texelHash };
    }
    case 'match': {
      const { deltaE, silhouette } = await matchModel(job.job, onProgress);
      return { deltaE: deltaE.mean, iou: silhouette.iou };
    }
  }
}

/** Files that a job reads; what it makes changes when they do. */
export function inputsOf({ do: what, job }: Job): readonly string[] {
  switch (what) {
    case 'build':
      return [job.model, job.recipe];
    case 'check':
      return [job.model, ...job.albedos];
    case 'deliver':
      return [job.file, ...(job.settings === null ? [] : [job.settings])];
    case 'match':
      return [job.model, job.albedo, job.reference, ...Object.values(job.given)];
  }
}

/** The folder that it writes to. */
export const folderOf = ({ do: what, job }: Job): string => (what === 'check' ? job.folder! : job.out);
