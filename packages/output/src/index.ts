export { type Addition, Equipment, loadEquipment, loadShippedFonts } from './equipment.ts';
export { type FontFace, shippedFonts } from './fonts/shipped.ts';
export { inMemory } from './in-memory.ts';
export {
  type ContentOutput,
  type ContentRun,
  defineOutput,
  type FileType,
  fileTypeOf,
  type Output,
  type OutputFacts,
  type PagesOutput,
  type PagesRun,
  type RowsOutput,
  type RowsRun,
} from './output.ts';
export { PageChannel } from './page-channel.ts';
export { createPdfWriter, type PdfOptions } from './pdf/pdf.ts';
export { PictureThreads } from './pdf/pictures.ts';
export { TargetGone } from './target.ts';
export { type RowsReader, type WrittenReport, type WrittenResult, writeReport } from './write-report.ts';
export { type PageWriter, type PictureFiles, pictureFile } from './writer.ts';
