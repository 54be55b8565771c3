/** What the tests use of jsdom, which brings no types. */
declare module 'jsdom' {
  export class JSDOM {
    constructor(text: string, options: { readonly contentType: string });
    readonly window: { readonly document: Document };
  }
}
