import { escapeXml } from '../xml/escape.ts';

/** What a file says of itself, in the same words in each place where it does. */
export interface PdfFacts {
  title: string;
  author: string;
  /** BCP 47 tag. */
  language: string;
  createdAt: Date;
}

/** What a file keeps to. */
export interface Conformance {
  /** PDF/A for keeping (ISO 19005): 2 without attached files, 3 with them; null: not kept to. */
  archive: 2 | 3 | null;
  /** PDF/UA-1 (ISO 14289), for everybody. */
  accessible: boolean;
}

export const PRODUCER = 'Gaveta';

const property = (name: string, type: string, description: string): string =>
  `<rdf:li rdf:parseType="Resource"><pdfaProperty:name>${name}</pdfaProperty:name><pdfaProperty:valueType>${type}</pdfaProperty:valueType><pdfaProperty:category>internal</pdfaProperty:category><pdfaProperty:description>${description}</pdfaProperty:description></rdf:li>`;

/** PDF/A asks for a description of what it does not know itself. */
const ACCESSIBLE_SCHEMA = [
  '<rdf:Description rdf:about="" xmlns:pdfaExtension="http://www.aiim.org/pdfa/ns/extension/" xmlns:pdfaSchema="http://www.aiim.org/pdfa/ns/schema#" xmlns:pdfaProperty="http://www.aiim.org/pdfa/ns/property#">',
  '<pdfaExtension:schemas><rdf:Bag><rdf:li rdf:parseType="Resource">',
  '<pdfaSchema:schema>PDF/UA identification</pdfaSchema:schema>',
  '<pdfaSchema:namespaceURI>http://www.aiim.org/pdfua/ns/id/</pdfaSchema:namespaceURI>',
  '<pdfaSchema:prefix>pdfuaid</pdfaSchema:prefix>',
  `<pdfaSchema:property><rdf:Seq>${property('part', 'Integer', 'Part of ISO 14289 that the file keeps to')}</rdf:Seq></pdfaSchema:property>`,
  '</rdf:li></rdf:Bag></pdfaExtension:schemas></rdf:Description>',
].join('\n');

/** To the second, as dates of files are written. */
const dateOf = (date: Date): string => `${date.toISOString().slice(0, 19)}Z`;

/** The packet of metadata (ISO 16684-1, XMP) of a file. */
export const metadataOf = (
  { title, author, language, createdAt }: PdfFacts,
  { archive, accessible }: Conformance,
): string => {
  const date = dateOf(createdAt);
  return [
    '<?xpacket begin="\uFEFF" id="W5M0MpCehiHzreSzNTczkc9d"?>',
    '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">',
    '<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/">',
    '<dc:format>application/pdf</dc:format>',
    `<dc:title><rdf:Alt><rdf:li xml:lang="x-default">${escapeXml(title)}</rdf:li></rdf:Alt></dc:title>`,
    `<dc:creator><rdf:Seq><rdf:li>${escapeXml(author)}</rdf:li></rdf:Seq></dc:creator>`,
    `<dc:language><rdf:Bag><rdf:li>${escapeXml(language)}</rdf:li></rdf:Bag></dc:language>`,
    '</rdf:Description>',
    '<rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmlns:pdf="http://ns.adobe.com/pdf/1.3/">',
    `<xmp:CreateDate>${date}</xmp:CreateDate><xmp:ModifyDate>${date}</xmp:ModifyDate>`,
    `<xmp:CreatorTool>${PRODUCER}</xmp:CreatorTool><pdf:Producer>${PRODUCER}</pdf:Producer>`,
    '</rdf:Description>',
    archive
      ? `<rdf:Description rdf:about="" xmlns:pdfaid="http://www.aiim.org/pdfa/ns/id/"><pdfaid:part>${archive}</pdfaid:part><pdfaid:conformance>A</pdfaid:conformance></rdf:Description>`
      : '',
    accessible
      ? `<rdf:Description rdf:about="" xmlns:pdfuaid="http://www.aiim.org/pdfua/ns/id/"><pdfuaid:part>1</pdfuaid:part></rdf:Description>`
      : '',
    archive && accessible ? ACCESSIBLE_SCHEMA : '',
    '</rdf:RDF></x:xmpmeta>',
    '<?xpacket end="w"?>',
  ]
    .filter((line) => line !== '')
    .join('\n');
};
