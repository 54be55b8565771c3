import { readdirSync, readFileSync } from 'node:fs';
import { marked } from 'marked';
import type { Plugin } from 'vite';

const ID = 'virtual:handbook';
const FOLDER = 'docs/handbook';

/** A page of the handbook: its name without ending, its title, what it says as HTML. */
export interface HandbookPage {
  readonly name: string;
  readonly title: string;
  readonly html: string;
}

/** Every page of the handbook: the list of them first, the stages in the order of work, how-tos. */
export function handbookPages(folder = FOLDER): HandbookPage[] {
  const read = (name: string): HandbookPage => {
    const text = readFileSync(`${folder}/${name}.md`, 'utf8');
    const title = /^# (.*)$/m.exec(text)?.[1] ?? name;
    return { name, title, html: marked.parse(text, { async: false }) };
  };
  const list = read('README');
  const ordered = [...list.html.matchAll(/href="([\w-]+)\.md"/g)].map(([, name]) => name!);
  const rest = readdirSync(folder)
    .map((file) => file.replace(/\.md$/, ''))
    .filter((name) => name !== 'README' && !ordered.includes(name));
  return [list, ...ordered.map(read), ...rest.map(read)];
}

/** Puts the handbook into the application, as pages that need nothing else. */
export const handbook: Plugin = {
  name: 'handbook',
  resolveId: (id) => (id === ID ? `\0${ID}` : null),
  load(id) {
    if (id !== `\0${ID}`) return null;
    for (const file of readdirSync(FOLDER)) this.addWatchFile(`${FOLDER}/${file}`);
    return `export default ${JSON.stringify(handbookPages())};`;
  },
};
