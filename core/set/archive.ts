import { strFromU8, strToU8, Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import { z } from 'zod';
import { plainName } from '../delivery';
import { CoreError } from '../errors';
import { readZip } from '../formats';
import { parseSet, type AssetSet } from './asset-set';

/** Several projects and their sets as one file. */
const FORMAT = 'zanahoria-archive';

const LARGEST_PROJECT = 2e9;
const LARGEST_PICTURE = 512e6;
const LARGEST_TEXT = 256e6;
const LARGEST_TOTAL = 4e9;
/** A zip of the plain form counts its bytes in 32 bits. */
const LARGEST_ARCHIVE = 2 ** 32 - 2 ** 20;

const entrySchema = z.strictObject({
  /** By which sets name it. */
  id: z.string().min(1).max(64),
  name: z.string().min(1).max(120),
  /** Where in the zip its project file is. */
  file: z.string().min(1).max(300),
});
export type ArchivedProject = z.infer<typeof entrySchema>;

const manifestSchema = z.strictObject({
  format: z.literal(FORMAT),
  version: z.literal(1),
  projects: z.array(entrySchema).max(10_000),
  /** Each is checked by itself: it may be of an older form. */
  sets: z.array(z.unknown()).max(1000),
  /** Recipes that were kept for every project, and ramp sheets that several share, as they are stored. */
  recipes: z.array(z.unknown()).max(10_000),
  rampSheets: z.array(z.unknown()).max(10_000),
});

/** What an archive tells besides its projects. */
export interface ArchiveRest {
  readonly sets: readonly AssetSet[];
  readonly recipes: readonly unknown[];
  readonly rampSheets: readonly unknown[];
}

/** Writes an archive piece by piece, so that no two projects are in memory at a time. */
export class ArchiveWriter {
  private readonly zip: Zip;
  private readonly projects: ArchivedProject[] = [];
  private readonly pictures = new Set<string>();
  private written = 0;

  /** @param onPiece told each piece of the file, in order */
  constructor(onPiece: (piece: Uint8Array<ArrayBuffer>) => void) {
    this.zip = new Zip((error, piece) => {
      if (error) throw error;
      onPiece(piece as Uint8Array<ArrayBuffer>);
    });
  }

  /** @throws CoreError `file-unsupported` if the archive becomes larger than a zip can be */
  project(id: string, name: string, file: Uint8Array): void {
    const number = String(this.projects.length + 1).padStart(3, '0');
    const entry = { id, name, file: `projects/${number}-${plainName(name).slice(0, 60) || 'project'}.zip` };
    this.add(entry.file, file);
    this.projects.push(entry);
  }

  /** A picture that sets share, by the hash of its content. */
  picture(hash: string, bytes: Uint8Array): void {
    if (this.pictures.has(hash)) return;
    this.pictures.add(hash);
    this.add(`pictures/${hash}`, bytes);
  }

  /** Writes what is left; the file is whole then. */
  end(rest: ArchiveRest): void {
    const entry = new ZipDeflate('archive.json', { level: 6 });
    entry.mtime = FIRST_DAY;
    this.zip.add(entry);
    const manifest = { format: FORMAT, version: 1, projects: this.projects, ...rest };
    entry.push(strToU8(JSON.stringify(manifest)), true);
    this.zip.end();
  }

  private add(name: string, bytes: Uint8Array): void {
    this.written += bytes.length;
    if (this.written > LARGEST_ARCHIVE) {
      throw new CoreError(
        'file-unsupported',
        'All of it together is more than 4 GB, which one file can’t hold. Save some projects one by one (Ctrl S in each), delete those that aren’t needed, and try again.',
      );
    }
    const entry = new ZipPassThrough(name);
    entry.mtime = FIRST_DAY;
    this.zip.add(entry);
    entry.push(bytes, true);
  }
}

/** The same projects make the same file. */
const FIRST_DAY = '1980-01-01T12:00:00';

/** An archive that was opened. */
export interface Archive extends ArchiveRest {
  readonly projects: readonly ArchivedProject[];
  /** Sentences on sets that couldn't be read. */
  readonly problems: readonly string[];
  /** A project's file; undefined where the archive doesn't hold it. */
  file(project: ArchivedProject): Uint8Array | undefined;
  picture(hash: string): Uint8Array | undefined;
}

/** Whether a zip is an archive, by the name of what it begins or ends with: nothing is unpacked. */
export const isArchive = (bytes: Uint8Array): boolean => endsWithName(bytes, 'archive.json');

/** The directory at a zip's end names its entries; a project file has no entry of that name. */
function endsWithName(bytes: Uint8Array, name: string): boolean {
  const tail = bytes.subarray(Math.max(0, bytes.length - 400));
  return strFromU8(tail, true).includes(name);
}

/**
 * Opens an archive. Its projects are read one by one by whoever wants them: a damaged one doesn't keep the others away.
 *
 * @throws CoreError `file-empty`, `file-not-a-project`
 */
export function readArchive(bytes: Uint8Array): Archive {
  if (bytes.length === 0) throw new CoreError('file-empty', 'The file is empty (0 bytes). Copy it again.');
  const files = readZip(
    bytes,
    { entry: largestEntry, total: LARGEST_TOTAL },
    { code: 'file-not-a-project', name: 'backup' },
  );
  const text = files.get('archive.json');
  const manifest = manifestSchema.safeParse(text && parsed(strFromU8(text)));
  if (!manifest.success) {
    throw new CoreError(
      'file-not-a-project',
      'The zip holds no projects of Zanahoria, or its list of them is damaged. Unpack it: each project in its folder “projects” can be opened by itself.',
      { cause: manifest.error },
    );
  }
  const problems: string[] = [];
  const sets = manifest.data.sets.flatMap((data) => {
    try {
      return [parseSet(data)];
    } catch (error) {
      problems.push(error instanceof Error ? error.message : String(error));
      return [];
    }
  });
  return {
    ...manifest.data,
    sets,
    problems,
    file: (project) => files.get(project.file),
    picture: (hash) => files.get(`pictures/${hash}`),
  };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

function largestEntry(name: string): number {
  if (name === 'archive.json') return LARGEST_TEXT;
  if (/^projects\/[^/]+\.zip$/.test(name)) return LARGEST_PROJECT;
  return /^pictures\/\w+$/.test(name) ? LARGEST_PICTURE : 0;
}
