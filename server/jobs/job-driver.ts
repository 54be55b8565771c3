/** How a job stands. */
export const JOB_STATES = ['waiting', 'working', 'done', 'failed', 'stopped'] as const;
export type JobState = (typeof JOB_STATES)[number];

export interface JobStatus {
  readonly id: string;
  readonly state: JobState;
  /** How far it is, 0..1. */
  readonly done: number;
  /** Why it failed; a sentence. */
  readonly problem: string | null;
  /** Bytes of what it made. */
  readonly bytes: number | null;
}

/** Takes jobs, does them or has them done, and keeps what they make for a while. */
export interface JobDriver {
  readonly name: 'in-process' | 'redis';
  /**
   * Puts a job in line.
   *
   * @param bytes the zip that was sent, already looked at
   * @throws CoreError `storage-full` if too many wait, `storage-failed` if it can't be kept just now
   */
  add(id: string, bytes: Uint8Array): Promise<void>;
  /** Null where there is no such job, or not any more. */
  status(id: string): Promise<JobStatus | null>;
  /** What it made, as a zip; null until then. */
  result(id: string): Promise<Uint8Array | null>;
  /** Stops it, or lets go of what it made. @returns false where there is no such job */
  remove(id: string): Promise<boolean>;
  /** Told whenever a job changes. @returns how to listen no more */
  listen(id: string, listener: (status: JobStatus) => void): () => void;
  /** Jobs by their state. */
  counts(): Promise<Readonly<Record<JobState, number>>>;
  /** Whether jobs can be taken; a sentence where they can't. */
  trouble(): Promise<string | null>;
  /** Ends after the jobs that are being done, but not later than after so long. */
  close(graceMs: number): Promise<void>;
}

/** Jobs in line at the most: what waits is kept whole. */
export const MOST_WAITING = 2000;

/** How long what was made can be fetched. */
export const KEPT_SECONDS = 3600;
