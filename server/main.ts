import { createApp } from './app';

/** Serves the built application. PORT chooses the port, HOST the address (by default this machine only). */
const port = Number(process.env['PORT'] ?? 4173);
const host = process.env['HOST'] ?? '127.0.0.1';

const server = createApp('dist').listen(port, host, () => {
  process.stdout.write(`Zanahoria is at http://${host === '127.0.0.1' ? 'localhost' : host}:${port}/\n`);
});

server.on('error', (error: NodeJS.ErrnoException) => {
  process.stderr.write(
    error.code === 'EADDRINUSE'
      ? `Port ${port} is taken. Choose another one: PORT=4200 ./script/start\n`
      : `The server could not start: ${error.message}\n`,
  );
  process.exitCode = 1;
});
