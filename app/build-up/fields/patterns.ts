import { create } from 'zustand';
import { z } from 'zod';
import type { Pattern } from '../../../core/document';
import { sentenceOf } from '../../../core/errors';
import { useProject, type Commander } from '../../project';
import { bytesOf, chooseFiles } from '../../shared/files';
import { notify } from '../../shared/notify';
import { jobPool } from '../../shared/platform';
import { pictureOfWords } from './word-picture';

/** A pattern that comes with the program. */
export interface ShippedPattern {
  readonly file: string;
  readonly title: string;
}

const FOLDER = '/demo/patterns';

export const shippedUrl = ({ file }: ShippedPattern): string => `${FOLDER}/${file}.png`;

export const useShippedPatterns = create<{ readonly patterns: readonly ShippedPattern[] }>(() => ({
  patterns: [],
}));

const listSchema = z.array(z.strictObject({ file: z.string(), title: z.string() }));

let opened: Promise<readonly ShippedPattern[]> | null = null;

/** Fetches the list of what comes with the program, once. */
export function openPatterns(): Promise<readonly ShippedPattern[]> {
  opened ??= fetch(`${FOLDER}/index.json`)
    .then(async (answer) => listSchema.parse(await answer.json()))
    .then((patterns) => {
      useShippedPatterns.setState({ patterns });
      return patterns;
    })
    .catch((error: unknown) => {
      opened = null;
      notify(sentenceOf(error));
      return [];
    });
  return opened;
}

/** The project's patterns by their names: a shipped one is added once. */
const known = (name: string): Pattern | undefined =>
  useProject.getState().document?.patterns.find((p) => p.name === name);

/** Adds a pattern that comes with the program, if the project doesn't have it. @returns its id; null if that can't be done */
export async function addShipped(session: Commander, shipped: ShippedPattern): Promise<number | null> {
  const there = known(shipped.title);
  if (there) return there.id;
  try {
    const answer = await fetch(shippedUrl(shipped));
    return await addPicture(session, shipped.title, new Uint8Array(await answer.arrayBuffer()));
  } catch (error) {
    notify(sentenceOf(error));
    return null;
  }
}

/** Lets a picture be chosen and adds it as a pattern. @returns its id; null if none was chosen, or it can't be read, which is told */
export async function choosePattern(session: Commander): Promise<number | null> {
  const [file] = await chooseFiles('image/png,image/jpeg,image/webp', false);
  if (!file) return null;
  try {
    return await addPicture(session, file.name.replace(/\.[^.]+$/, ''), await bytesOf(file));
  } catch (error) {
    notify(`${file.name}: ${sentenceOf(error)}`);
    return null;
  }
}

/** Words as a picture of the project. @returns its id; null if that can't be done, which is told */
export async function patternOfWords(
  session: Commander,
  text: string,
  color: string,
): Promise<number | null> {
  const png = await pictureOfWords(text, color);
  return png && addPicture(session, `“${text.slice(0, 60)}”`, png, false);
}

async function addPicture(
  session: Commander,
  name: string,
  file: Uint8Array,
  listed = true,
): Promise<number | null> {
  const { png, width, height } = await jobPool.run('patternPng', { file });
  const pattern = { name: name.slice(0, 80) || 'Pattern', width, height, listed };
  const done = await session.attach({ do: 'add-pattern', pattern }, png);
  return done?.ids[0] ?? null;
}

/** One to begin with: the project's last, or the first that comes with the program. */
export async function firstPattern(session: Commander): Promise<number | null> {
  const last = useProject.getState().document?.patterns.findLast((p) => p.listed);
  if (last) return last.id;
  const [first] = await openPatterns();
  return first ? addShipped(session, first) : choosePattern(session);
}
