import type { Writable } from 'node:stream';
import { FormulaError, type ListedColumn, type ListedSet, type RowListener, type Value } from '@gaveta/core/internal';
import { Archive } from '../archive.ts';
import { fileName } from '../file-name.ts';
import type { RowsRun } from '../output.ts';
import { PartFile } from '../part-file.ts';
import { TextSink } from '../text-sink.ts';
import { dataText } from '../values.ts';
import { escapeAttribute, escapeXml } from './escape.ts';
import type { XmlOptions } from './options.ts';

const HEAD = '<?xml version="1.0" encoding="UTF-8"?>\n';

type Write = (text: string) => Promise<void> | undefined;

class Elements implements RowListener {
  private depth = 1;

  constructor(
    private readonly write: Write,
    private readonly isIndented: boolean,
  ) {}

  begin(title: string): void {
    void this.write(`${HEAD}<report name="${escapeAttribute(title)}">`);
  }

  end(): Promise<void> | undefined {
    return this.write(`${this.isIndented ? '\n' : ''}</report>\n`);
  }

  private get line(): string {
    return this.isIndented ? `\n${'  '.repeat(this.depth)}` : '';
  }

  begins({ name }: ListedSet): void {
    void this.write(`${this.line}<${name}>`);
    this.depth++;
  }

  /** Of what has no value there is no element; of an empty text there is an empty one. */
  row({ columns }: ListedSet, values: readonly Value[]): Promise<void> | undefined {
    let text = `${this.line}<row>`;
    this.depth++;
    for (const [i, value] of values.entries()) {
      const written = dataText(value);
      if (written === null) continue;
      const { name } = columns[i]!;
      const wrong = value instanceof FormulaError ? ` error="${written}"` : '';
      text += `${this.line}<${name}${wrong}>${wrong ? '' : escapeXml(written)}</${name}>`;
    }
    return this.write(text);
  }

  rowEnds(): Promise<void> | undefined {
    this.depth--;
    return this.write(`${this.line}</row>`);
  }

  ends({ name }: ListedSet): Promise<void> | undefined {
    this.depth--;
    return this.write(`${this.line}</${name}>`);
  }
}

const TYPES: Readonly<Record<ListedColumn['type'], string>> = {
  text: 'xs:string',
  number: 'xs:decimal',
  date: 'xs:date',
  datetime: 'xs:dateTime',
  boolean: 'xs:boolean',
};

const columnSchema = ({ name, label, type }: ListedColumn): string => `
        <xs:element name="${name}" minOccurs="0">
          <xs:annotation><xs:documentation>${escapeXml(label)}</xs:documentation></xs:annotation>
          <xs:complexType><xs:simpleContent><xs:extension base="${type === 'text' ? TYPES.text : `or-empty-${type}`}">
            <xs:attribute name="error" type="xs:string"/>
          </xs:extension></xs:simpleContent></xs:complexType>
        </xs:element>`;

const setSchema = (set: ListedSet): string => `
    <xs:element name="${set.name}"><xs:complexType><xs:sequence>
      <xs:element name="row" minOccurs="0" maxOccurs="unbounded"><xs:complexType><xs:sequence>${set.columns.map(columnSchema).join('')}${set.inner.map(setSchema).join('')}
      </xs:sequence></xs:complexType></xs:element>
    </xs:sequence></xs:complexType></xs:element>`;

/** A value of a type, or nothing where an error stands in its place. */
const orEmpty = (type: Exclude<ListedColumn['type'], 'text'>): string => `
  <xs:simpleType name="or-empty-${type}">
    <xs:union memberTypes="${TYPES[type]}"><xs:simpleType><xs:restriction base="xs:string"><xs:length value="0"/></xs:restriction></xs:simpleType></xs:union>
  </xs:simpleType>`;

/** The XML Schema (XSD 1.0) of what a report gives. */
export const schemaOf = (
  sets: readonly ListedSet[],
): string => `${HEAD}<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" elementFormDefault="qualified">
  <xs:element name="report"><xs:complexType><xs:sequence>${sets.map(setSchema).join('')}
  </xs:sequence><xs:attribute name="name" type="xs:string" use="required"/></xs:complexType></xs:element>${(['number', 'date', 'datetime', 'boolean'] as const).map(orEmpty).join('')}
</xs:schema>
`;

const writeElements = async (run: RowsRun<XmlOptions>, write: Write): Promise<void> => {
  const elements = new Elements(write, run.options.indent);
  elements.begin(run.title);
  await run.rows(elements);
  await elements.end();
};

/** Rows as elements, with the sets inside each of them. */
export const writeXml = async (run: RowsRun<XmlOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const { schema } = run.options;
  if (schema === 'beside') {
    const part = await PartFile.open();
    try {
      await writeElements(run, (text) => {
        signal.throwIfAborted();
        return part.write(Buffer.from(text));
      });
      const archive = new Archive(sink);
      const name = fileName(run.title, 'report');
      await part.into(archive, `${name}.xml`, signal);
      await archive.add(`${name}.xsd`, schemaOf(run.sets));
      await archive.end();
    } finally {
      await part.close();
    }
    return;
  }
  const text = new TextSink(sink, signal);
  if (schema === 'alone') void text.write(schemaOf(run.sets));
  else await writeElements(run, (written) => text.write(written));
  await text.end();
};
