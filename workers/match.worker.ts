import { CoreError } from '../core/errors';
import { decodePicture } from './decode-picture';
import { MatchDesk } from './match-desk';
import type { MatchEvents, MatchMethods } from './match-protocol';
import { serve } from './rpc';

serve<MatchMethods, MatchEvents>(
  self,
  (emit) => {
    const desk = new MatchDesk();
    const tell = (done: number): void => emit('progress', done);
    return {
      setModel: (params) => {
        desk.setModel(params);
        return null;
      },
      setTiles: (fresh) => {
        const heat = desk.setTiles(fresh);
        if (heat) emit('heat', heat);
        return null;
      },
      setRamps: (ramps) => {
        const heat = desk.setRamps(ramps);
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
        return desk.setReference(picture, how);
      },
      setMatch: (how) => desk.setMatch(how),
      report: () => desk.report(),
      look: ({ how }) => desk.look(how),
      heat: ({ of }) => desk.heat(of),
      fitPairs: (params) => desk.fitPairs(params),
      refine: (params) => desk.refine(params, tell),
      find: (params) => desk.find(params, tell),
      ramps: ({ toward }) => desk.ramps(toward),
      palettes: (params) => desk.palettes(params),
    };
  },
  // What comes while a long one is under way waits for it.
  { inLine: true },
);
