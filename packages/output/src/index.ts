export { loadShippedFonts, SHIPPED_FONTS, shippedFontPath } from './fonts/shipped.ts';
export { createPdfWriter, type PdfOptions, TargetGone } from './pdf/pdf.ts';
export { PictureThreads } from './pdf/pictures.ts';
export type { PageWriter } from './writer.ts';
