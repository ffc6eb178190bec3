export { loadShippedFonts, SHIPPED_FONTS, shippedFontPath } from './fonts/shipped.ts';
export { createPdfWriter, type PdfOptions } from './pdf/pdf.ts';
export { PictureThreads } from './pdf/pictures.ts';
export { TargetGone } from './pdf/target.ts';
export { type PageWriter, type PictureFiles, pictureFile } from './writer.ts';
