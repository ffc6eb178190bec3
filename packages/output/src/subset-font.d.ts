declare module 'subset-font' {
  /** A font with the characters of a text and no others. */
  const subset: (font: Buffer, text: string, options?: { targetFormat?: 'sfnt' | 'woff' | 'woff2' }) => Promise<Buffer>;
  export default subset;
}
