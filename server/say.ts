import type { Response } from 'express';

/** Answers with a sentence. */
export const say = (response: Response, status: number, words: string): void =>
  void response.status(status).set('Cache-Control', 'no-store').type('text').send(`${words}\n`);
