import { serveProcess } from '../jobs';

// Dies when it is asked to, as one does that runs out of memory.
serveProcess(({ die }: { die: boolean }) => {
  if (die) process.kill(process.pid, 'SIGKILL');
  return 'alive';
});
