/** The handbook's pages, put together when the application is built (script/handbook.ts). */
declare module 'virtual:handbook' {
  const pages: readonly { readonly name: string; readonly title: string; readonly html: string }[];
  export default pages;
}
