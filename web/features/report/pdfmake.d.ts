/** The part of pdfmake's server build that is used here; the package ships no types. */
declare module 'pdfmake' {
  interface Made {
    getBuffer(): Promise<Buffer>;
  }
  const pdfmake: {
    setFonts(fonts: Record<string, Record<'normal' | 'bold' | 'italics' | 'bolditalics', string>>): void;
    setUrlAccessPolicy(policy: (url: string) => boolean): void;
    setLocalAccessPolicy(policy: (path: string) => boolean): void;
    setTableLayouts(layouts: Record<string, object>): void;
    createPdf(document: object): Made;
  };
  export default pdfmake;
}
