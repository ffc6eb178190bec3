import type { Archive } from '../archive.ts';

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
