import { CoreError } from '../core/errors';
import { decodePicture } from './decode-picture';
import { MatchSession } from './match-session';
import type { MatchEvents, MatchMethods } from './match-protocol';
import { serve } from './rpc';

serve<MatchMethods, MatchEvents>(
  self,
  (emit) => {
    const session = new MatchSession();
    const tell = (done: number): void => emit('progress', done);
    return {
      setModel: (params) => {
        session.setModel(params);
        return null;
      },
      setTiles: (fresh) => {
        const heat = session.setTiles(fresh);
        if (heat) emit('heat', heat);
        return null;
      },
      setRamps: (ramps) => {
        const heat = session.setRamps(ramps);
        if (heat) emit('heat', heat);
        return null;
      },
      setReference: async ({ file, ...how }) => {
        const picture = await decodePicture(file);
        if (!picture) {
          throw new CoreError(
            'file-not-a-picture',
            'That reference can’t be read. Remove it from the easel and add it again, as PNG, JPEG or WebP.',
          );
        }
        return session.setReference(picture, how);
      },
      setMatch: (how) => session.setMatch(how),
      report: () => session.report(),
      look: ({ how }) => session.look(how),
      heat: ({ of }) => session.heat(of),
      fitPairs: (params) => session.fitPairs(params),
      refine: (params) => session.refine(params, tell),
      find: (params) => session.find(params, tell),
      ramps: ({ toward }) => session.ramps(toward),
      palettes: (params) => session.palettes(params),
    };
  },
  // What comes while a long one is under way waits for it.
  { inLine: true },
);
