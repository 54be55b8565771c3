import { backUp, restore, ProjectStore } from '../storage';
import { handOver, serve } from './rpc';
import { SetSession } from './set-session';
import type { SetMethods } from './set-protocol';

const store = new ProjectStore();
const session = new SetSession(store);

serve<SetMethods, { progress: number }>(
  self,
  (emit) => {
    const told = (done: number): void => emit('progress', done);
    return {
      see: (params) => session.see(params, told),
      shareOf: (params) => session.shareOf(params),
      differsIn: (params) => session.differsIn(params),
      wouldFollow: (params) => session.wouldFollow(params, told),
      follow: (params) => session.follow(params),
      atlas: (params) => session.atlas(params, told),
      projectFile: async (params) => handOver(await session.projectFile(params)),
      backup: (params) => backUp(store, params, (project) => session.projectFile({ project }), told),
      restore: ({ bytes }) => restore(store, bytes, Date.now(), told),
    };
  },
  { inLine: true },
);
