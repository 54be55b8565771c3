import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Plugin } from 'vite';

/** Licences under which something may be shipped with the application: their texts go with it. */
const ALLOWED = new Set(
  'MIT ISC BSD-2-Clause BSD-3-Clause Apache-2.0 0BSD Unlicense Zlib OFL-1.1 CC0-1.0 MPL-2.0'.split(' '),
);

/** Whether an SPDX expression without nesting may be shipped: all of what is joined by AND, one of what is joined by OR. */
export const mayBeShipped = (expression: string): boolean =>
  expression
    .replace(/[()]/g, '')
    .split(' AND ')
    .every((all) => all.split(' OR ').some((one) => ALLOWED.has(one.trim())));

/** A package that is shipped. */
export interface ShippedPackage {
  readonly name: string;
  readonly version: string;
  readonly licence: string;
  /** Its text, as the package brings it; empty if it brings none. */
  readonly text: string;
}

/** The folder of the package that a file belongs to; null for files of our own. */
export function packageFolder(file: string): string | null {
  const path = file.replace(/^\0/, '').split('?')[0]!.replaceAll('\\', '/');
  const at = path.lastIndexOf('/node_modules/');
  if (at < 0) return null;
  const [first, second] = path.slice(at + '/node_modules/'.length).split('/');
  return `${path.slice(0, at)}/node_modules/${first!.startsWith('@') ? `${first}/${second}` : first}`;
}

/**
 * What is known of packages.
 *
 * @throws Error if one is under a licence that isn't allowed
 */
export function licencesOf(folders: Iterable<string>): ShippedPackage[] {
  const out: ShippedPackage[] = [];
  for (const folder of [...folders].sort()) {
    if (!existsSync(join(folder, 'package.json'))) continue;
    const { name, version, license } = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')) as {
      name?: string;
      version?: string;
      license?: string;
    };
    if (!name || !version) continue;
    if (!license || !mayBeShipped(license)) {
      throw new Error(
        `“${name}” is under “${license ?? 'no licence'}”, which may not be shipped. Replace it, or add the licence to script/licences.ts.`,
      );
    }
    const file = readdirSync(folder).find((f) => /^(licen[cs]e|copying)(\.|$)/i.test(f));
    out.push({ name, version, licence: license, text: file ? readFileSync(join(folder, file), 'utf8') : '' });
  }
  return out;
}

/** Collects which packages the application and its workers are made from, and writes their licences beside them. */
export function licences(): { readonly page: Plugin; readonly worker: Plugin } {
  const folders = new Set<string>();
  const collect = (_code: string, id: string): null => {
    const folder = packageFolder(id);
    if (folder) folders.add(folder);
    return null;
  };
  return {
    worker: { name: 'licences-of-workers', transform: collect },
    page: {
      name: 'licences',
      transform: collect,
      generateBundle() {
        const source = JSON.stringify(licencesOf(folders));
        this.emitFile({ type: 'asset', fileName: 'licences.json', source });
      },
    },
  };
}
