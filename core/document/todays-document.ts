import { z } from 'zod';
import { CoreError } from '../errors';
import { freePlace } from './board';
import { checkDocument } from './check-document';
import { withTodaysCues } from './old-cues';
import { documentSchema, referenceSchema, type ProjectDocument, type Reference } from './schema';

const bareReference = z.looseObject(
  referenceSchema.pick({ id: true, name: true, width: true, height: true }).shape,
);

/**
 * A document to which a step of an older form has been applied: what that brought back is brought up to today's form.
 *
 * @throws CoreError `document-invalid` if that can't be done
 */
export function todaysDocument(document: ProjectDocument): ProjectDocument {
  const references: Reference[] = [];
  for (const data of document.references) {
    const known = referenceSchema.safeParse({ ...data, match: data.match ?? null });
    const bare = bareReference.parse(data);
    references.push(
      known.success
        ? known.data
        : {
            id: bare.id,
            name: bare.name,
            width: bare.width,
            height: bare.height,
            note: '',
            match: null,
            board: freePlace(references, bare),
          },
    );
  }
  const parsed = documentSchema.safeParse({
    ...document,
    layers: withTodaysCues(document.layers),
    looks: document.looks ?? [],
    cameras: document.cameras ?? [],
    patterns: document.patterns ?? [],
    dense: document.dense ?? null,
    ramps: document.ramps ?? null,
    references,
  });
  if (parsed.success) return checkDocument(parsed.data);
  throw new CoreError(
    'document-invalid',
    'That step was made by an older version and leads to something that this one can’t show. Nothing was changed.',
    { cause: parsed.error },
  );
}
