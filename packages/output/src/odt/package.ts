import type { ContentSection } from '@gaveta/core/internal';
import type { Archive } from '../archive.ts';
import { escapeXml } from '../xml/escape.ts';
import { attributes, pt } from './styles.ts';

export const OASIS = 'urn:oasis:names:tc:opendocument:xmlns';

const TYPES: Readonly<Record<string, string>> = {
  png: 'image/png',
  jpeg: 'image/jpeg',
  svg: 'image/svg+xml',
  ttf: 'application/x-font-ttf',
};

/** The list of what is in a file of OpenDocument. `parts`: those besides pictures and fonts. */
export const manifestXml = (archive: Archive, mime: string, parts: readonly string[]): string => {
  const files: [string, string][] = [
    ['/', mime],
    ...parts.map((name): [string, string] => [name, 'text/xml']),
    ...[...archive.names('Pictures/'), ...archive.names('Fonts/')].map((name): [string, string] => [
      name,
      TYPES[name.replace(/^.*\./, '')] ?? '',
    ]),
  ];
  const entries = files.map(
    ([path, type]) => `<manifest:file-entry manifest:full-path="${path}" manifest:media-type="${type}"/>`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>\n<manifest:manifest xmlns:manifest="${OASIS}:manifest:1.0" manifest:version="1.3">${entries.join('')}</manifest:manifest>`;
};

/** The paper of pages, and room for their bands. `more`: further attributes of it. */
export const pageLayoutXml = (
  name: string,
  { width, height, margins }: ContentSection,
  has: { header: boolean; footer: boolean },
  { usage = 'all', more = {} }: { usage?: 'all' | 'left' | 'right'; more?: Record<string, string> } = {},
): string => {
  const band = '<style:header-footer-properties fo:min-height="0pt" fo:margin-left="0pt" fo:margin-right="0pt"/>';
  const paper = attributes({
    'fo:page-width': pt(width),
    'fo:page-height': pt(height),
    'style:print-orientation': width > height ? 'landscape' : 'portrait',
    'fo:margin-top': pt(margins.top),
    'fo:margin-bottom': pt(margins.bottom),
    'fo:margin-left': pt(margins.left),
    'fo:margin-right': pt(margins.right),
    ...more,
  });
  const header = has.header ? `<style:header-style>${band}</style:header-style>` : '';
  const footer = has.footer ? `<style:footer-style>${band}</style:footer-style>` : '';
  return `<style:page-layout style:name="${name}" style:page-usage="${usage}"><style:page-layout-properties${paper}/>${header}${footer}</style:page-layout>`;
};

/** What a file of OpenDocument says of itself. */
export const metaXml = ({
  title,
  language,
  author,
}: {
  title: string;
  language: string;
  author?: string | undefined;
}): string => {
  const by = author
    ? `<meta:initial-creator>${escapeXml(author)}</meta:initial-creator><dc:creator>${escapeXml(author)}</dc:creator>`
    : '';
  return `<?xml version="1.0" encoding="UTF-8"?>\n<office:document-meta xmlns:office="${OASIS}:office:1.0" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:meta="${OASIS}:meta:1.0" office:version="1.3"><office:meta><dc:title>${escapeXml(title)}</dc:title>${by}<dc:language>${escapeXml(language)}</dc:language></office:meta></office:document-meta>`;
};
