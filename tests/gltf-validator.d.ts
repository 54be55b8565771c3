declare module 'gltf-validator' {
  interface Report {
    readonly issues: {
      readonly numErrors: number;
      readonly numWarnings: number;
      readonly messages: readonly {
        readonly code: string;
        readonly severity: number;
        readonly pointer: string;
      }[];
    };
    readonly info: { readonly extensionsUsed?: readonly string[]; readonly totalTriangleCount: number };
  }
  const validator: { validateBytes(bytes: Uint8Array): Promise<Report> };
  export default validator;
}
