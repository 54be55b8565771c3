import { spawn, type ChildProcess } from 'node:child_process';
import { setTimeout as wait } from 'node:timers/promises';

export const PORT = 4391;

/** The built application, served as it is used. */
export async function served(): Promise<ChildProcess> {
  const server = spawn('npx', ['--no-install', 'tsx', 'server/main.ts'], {
    env: { ...process.env, PORT: String(PORT) },
    stdio: 'ignore',
    detached: true,
  });
  for (let n = 0; n < 100; n++) {
    if (await fetch(`http://localhost:${PORT}/health`).catch(() => null)) return server;
    await wait(100);
  }
  throw new Error('The server does not answer.');
}

export const stopServer = ({ pid }: ChildProcess): void => void process.kill(-pid!);
