import { createHash, timingSafeEqual } from 'node:crypto';
import type { NextFunction, Request, Response } from 'express';
import { say } from './say';

const digest = (text: string): Buffer => createHash('sha256').update(text).digest();

/**
 * Lets in only who knows the token: as `Authorization: Bearer`, or as the password of a browser's own question (RFC 7617), whatever the user
 * is called.
 */
export function onlyWith(token: string) {
  const wanted = digest(token);
  return (request: Request, response: Response, next: NextFunction): void => {
    const given = tokenIn(request.headers.authorization ?? '');
    if (given !== null && timingSafeEqual(digest(given), wanted)) return next();
    response.set('WWW-Authenticate', 'Basic realm="Zanahoria", charset="UTF-8"');
    say(response, 401, 'This server wants a token: Authorization: Bearer …, or the token as password.');
  };
}

function tokenIn(header: string): string | null {
  const [, scheme, value] = /^(Bearer|Basic) +(\S+)$/i.exec(header) ?? [];
  if (!scheme || !value) return null;
  if (scheme.toLowerCase() === 'bearer') return value;
  const pair = Buffer.from(value, 'base64').toString('utf8');
  return pair.slice(pair.indexOf(':') + 1);
}
