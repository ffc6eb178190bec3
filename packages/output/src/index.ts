export { loadShippedFonts, SHIPPED_FONTS, shippedFontPath } from './fonts/shipped.ts';
export { createPdfWriter, type PdfOptions } from './pdf/pdf.ts';
export type { PageWriter } from './writer.ts';
