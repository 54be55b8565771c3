import { CoreError, sentenceOf } from '../../../core/errors';
import {
  commandOf,
  distanceFor,
  isFlatBeside,
  proposalFor,
  proposalWords,
  refinedBy,
  towardLight,
  type Proposal,
  type ToldRamps,
} from '../../../core/proposals';
import type { ProjectDocument } from '../../../core/document';
import type { Advice, MatchReport } from '../../../core/match';
import { type Session, useMatchView, useProject } from '../../project';
import { notify } from '../../shared/notify';
import { useMatch } from '../match-ui';

/** A change is reckoned from what it came to, so many times. */
const ROUNDS = 3;

/** Less than this is no gain worth another round, CIEDE2000. */
const GAIN = 0.15;

/** What brings the area nearer by less isn't offered, CIEDE2000. */
const LEAST_GAIN = 0.1;

/** The reference's ramps, where a part has one tone and the reference several; null where they aren't wanted or can't be told. */
async function rampsFor(
  session: Session,
  document: ProjectDocument,
  report: MatchReport,
  { apply, area, of }: Advice,
): Promise<ToldRamps | null> {
  const part = apply !== 'light' && of === 'part' ? report.parts.find((a) => a.part === area) : undefined;
  if (!part || !isFlatBeside(part)) return null;
  const toward = towardLight(document, report);
  try {
    return { ramps: await session.matcher.ask('ramps', { toward }), toward };
  } catch {
    return null;
  }
}

/** Tries what an advice proposes, measures what it comes to, and mends it by that; to be kept or taken back. */
export async function tryAdvice(session: Session, advice: Advice): Promise<void> {
  if (useMatch.getState().isTrying) return;
  useMatch.setState({ isTrying: true });
  try {
    const hadTrial = useMatch.getState().trial !== null;
    await takeBack(session);
    // A camera that is being fitted comes first.
    await session.matcher.idle();
    // What was taken back is measured anew: a proposal begins from what is there.
    const before = hadTrial ? await session.matcher.measureNow() : useMatchView.getState().report;
    const { document } = useProject.getState();
    if (!document || !before) return;
    const told = await rampsFor(session, document, before, advice);
    const proposal = proposalFor(document, before, advice, told);
    if (!proposal) {
      notify('Nothing of the build-up can be changed for that by itself. Show leads to the place.');
      return;
    }
    const best = await session.during(bestOf(session, proposal, before));
    if (!best) return;
    if (distanceFor(best.proposal, before) - distanceFor(best.proposal, best.report) < LEAST_GAIN) {
      const isUndone = await session.undoNow(best.step);
      notify(
        isUndone
          ? 'That was tried and brought it no nearer, so it was undone. Show leads to the place, to paint it there.'
          : 'That brought it no nearer. Something else was done since: go back in the history to undo both.',
      );
      return;
    }
    useMatch.setState({
      trial: {
        title: proposalWords(best.proposal),
        step: best.step,
        before: before.deltaE,
        after: best.report.deltaE,
        area:
          best.proposal.by === 'light'
            ? null
            : {
                name: best.proposal.name,
                before: distanceFor(best.proposal, before),
                after: distanceFor(best.proposal, best.report),
              },
      },
    });
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
  } finally {
    useMatch.setState({ isTrying: false });
  }
}

interface Tried {
  readonly proposal: Proposal;
  readonly step: number;
  readonly report: MatchReport;
}

async function bestOf(session: Session, first: Proposal, before: MatchReport): Promise<Tried | null> {
  let proposal: Proposal | null = first;
  let best: Tried | null = null;
  let last: Tried | null = null;
  for (let round = 0; round < ROUNDS && proposal; round++) {
    // What was done meanwhile lies over it: then it stays as it is.
    if (last && !(await session.undoNow(last.step))) return last;
    last = await tryOne(session, proposal);
    if (!last) break;
    const gain = best ? distanceFor(proposal, best.report) - distanceFor(proposal, last.report) : Infinity;
    if (gain > 0) best = last;
    if (gain < GAIN) break;
    proposal = refinedBy(proposal, last.report);
  }
  if (!best || !last) return best;
  if (best === last) return best;
  // An earlier one was better.
  if (!(await session.undoNow(last.step))) return last;
  return (await tryOne(session, best.proposal)) ?? null;

  async function tryOne(own: Session, one: Proposal): Promise<Tried | null> {
    const { document } = useProject.getState();
    const done = document && (await own.command(commandOf(document, one)));
    if (!done) return null;
    try {
      return { proposal: one, step: done.step, report: await own.matcher.measureNow() };
    } catch {
      return { proposal: one, step: done.step, report: before };
    }
  }
}

/** The trial stays. */
export const keepTrial = (): void => useMatch.setState({ trial: null });

/** The trial goes, if nothing was done since. */
export async function takeBack(session: Session): Promise<void> {
  const { trial } = useMatch.getState();
  if (!trial) return;
  useMatch.setState({ trial: null });
  if (!(await session.undoNow(trial.step))) {
    notify('Something else was done since: go back in the history to undo both.');
  }
}
