import { readFileSync } from 'node:fs';
import { strToU8, zipSync } from 'fflate';
import { encodePng } from '../core/formats';

/** Two squares in one plane, apart on the sheet. */
export const FLOOR_OBJ = `o Floor
v -1 0 1
v 1 0 1
v 1 0 -1
v -1 0 -1
vt 0.1 0.1
vt 0.9 0.1
vt 0.9 0.9
vt 0.1 0.9
f 1/1 2/2 3/3 4/4
`;

const recipe = (): Uint8Array => new Uint8Array(readFileSync('tests/fixtures/v12/plate.recipe.json'));

/** A job as it is sent. */
export const jobZip = (request: unknown, files: Readonly<Record<string, Uint8Array | string>>): Uint8Array =>
  zipSync({
    'job.json': strToU8(JSON.stringify(request)),
    ...Object.fromEntries(
      Object.entries(files).map(([name, data]) => [name, typeof data === 'string' ? strToU8(data) : data]),
    ),
  });

export const buildJob = (size = 64): Uint8Array =>
  jobZip({ do: 'build', size }, { 'model.obj': FLOOR_OBJ, 'recipe.json': recipe() });

/** One that takes next to no time. */
export function checkJob(): Uint8Array {
  const rgba = new Uint8Array(16 * 16 * 4).fill(255);
  const albedo = encodePng({ width: 16, height: 16, rgba });
  return jobZip({ do: 'check', mips: 0 }, { 'model.obj': FLOOR_OBJ, 'albedo.png': albedo });
}

interface Told {
  readonly state: string;
  readonly done: number;
  readonly problem: string | null;
  readonly bytes: number | null;
}

/** Sends a job. @returns its address */
export async function send(
  server: string,
  zip: Uint8Array,
  headers: Record<string, string> = {},
): Promise<string> {
  const answer = await fetch(`${server}/jobs`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/zip', ...headers },
    body: zip as BodyInit,
  });
  if (answer.status !== 202) throw new Error(`${answer.status} ${await answer.text()}`);
  return server + answer.headers.get('location')!;
}

/** Listens until a job is over. @returns all that was told */
export async function heard(address: string): Promise<Told[]> {
  const text = await (await fetch(`${address}/events`)).text();
  return [...text.matchAll(/^data: (.*)$/gm)].map(([, data]) => JSON.parse(data!) as Told);
}
