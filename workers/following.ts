import type { Commit } from '../core/engine';

/** What a tab that paints on a project tells those that look at it. */
type Told =
  | { readonly kind: 'commit'; readonly commit: Commit }
  /** What was asked for is on disk. */
  | { readonly kind: 'kept' }
  /** It has begun, perhaps anew after a reload or a dead worker, and knows of nobody who looks. */
  | { readonly kind: 'begun' };

/** What a tab that looks at it asks. */
interface Asked {
  readonly kind: 'who paints';
}

type Message = Told | Asked;

const channelOf = (project: string): BroadcastChannel => new BroadcastChannel(`zanahoria ${project}`);

/** The tab that paints tells others what it does, as soon as one of them has asked. */
export class Leader {
  private readonly channel: BroadcastChannel;
  private isFollowed = false;

  /** @param settled resolves when all that was done is on disk */
  constructor(project: string, settled: () => Promise<void>) {
    this.channel = channelOf(project);
    this.channel.addEventListener('message', ({ data }: MessageEvent<Message>) => {
      if (data.kind !== 'who paints') return;
      // What is done from now on is told; what was done before is read from disk.
      this.isFollowed = true;
      void settled().then(() => this.tell({ kind: 'kept' }));
    });
    this.tell({ kind: 'begun' });
  }

  private tell(message: Told): void {
    this.channel.postMessage(message);
  }

  did(commit: Commit): void {
    if (this.isFollowed) this.tell({ kind: 'commit', commit });
  }
}

/** How long an answer is waited for: a tab in the background may be slow. */
const ANSWER_MS = 1500;

/** A tab that looks at a project which another one paints on. */
export class Follower {
  private readonly channel: BroadcastChannel;
  private waiting: Commit[] | null = [];
  private readonly onCommit: (commit: Commit) => void;
  private isLate = false;

  /** @param onLost something may have been missed: what was read is to be read again */
  constructor(project: string, onCommit: (commit: Commit) => void, onLost: () => void) {
    this.channel = channelOf(project);
    this.onCommit = onCommit;
    this.channel.addEventListener('message', ({ data }: MessageEvent<Message>) => {
      // An answer that comes too late: what was done before it wasn't told.
      if (data.kind === 'begun' || (data.kind === 'kept' && this.isLate)) onLost();
      if (data.kind !== 'commit') return;
      if (this.waiting) this.waiting.push(data.commit);
      else this.onCommit(data.commit);
    });
  }

  /** Resolves when all that was done so far can be read from disk. */
  asks(): Promise<void> {
    return new Promise((resolve) => {
      const done = (): void => {
        this.channel.removeEventListener('message', hear);
        clearTimeout(timer);
        resolve();
      };
      const hear = ({ data }: MessageEvent<Message>): void => {
        if (data.kind === 'kept') done();
      };
      const timer = setTimeout(() => {
        this.isLate = true;
        done();
      }, ANSWER_MS);
      this.channel.addEventListener('message', hear);
      this.channel.postMessage({ kind: 'who paints' } satisfies Asked);
    });
  }

  /** What was read is in hand: what came since is told, and from now on all of it at once. */
  begin(): void {
    const { waiting } = this;
    this.waiting = null;
    for (const commit of waiting ?? []) this.onCommit(commit);
  }
}
