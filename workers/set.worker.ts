import { backUp, restore, ProjectStore } from '../storage';
import { handOver, serve } from './rpc';
import { SetDesk } from './set-desk';
import type { SetMethods } from './set-protocol';

const store = new ProjectStore();
const desk = new SetDesk(store);

serve<SetMethods, { progress: number }>(
  self,
  (emit) => {
    const told = (done: number): void => emit('progress', done);
    return {
      see: (params) => desk.see(params, told),
      shareOf: (params) => desk.shareOf(params),
      differsIn: (params) => desk.differsIn(params),
      wouldFollow: (params) => desk.wouldFollow(params, told),
      follow: (params) => desk.follow(params),
      atlas: (params) => desk.atlas(params, told),
      projectFile: async (params) => handOver(await desk.projectFile(params)),
      backup: (params) => backUp(store, params, (project) => desk.projectFile({ project }), told),
      restore: ({ bytes }) => restore(store, bytes, Date.now(), told),
    };
  },
  { inLine: true },
);
