import { execFileSync } from 'node:child_process';
import { create } from 'fontkit';

/**
 * What of PDF/A-2a or 3a (ISO 19005) and PDF/UA-1 (ISO 14289) can be told of a file by reading it, with another reader than the
 * writer’s own: qpdf takes it apart.
 */

type Json = null | boolean | number | string | Json[] | { [key: string]: Json };
type Dictionary = { [key: string]: Json };
interface Stream {
  dict: Dictionary;
  data: Buffer;
}

const isDictionary = (value: Json | undefined): value is Dictionary =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What a file holds. */
class PdfFile {
  readonly objects = new Map<string, Json | Stream>();
  readonly trailer: Dictionary;

  constructor(path: string) {
    const arguments_ = ['--json', '--json-stream-data=inline', '--decode-level=generalized', path];
    const out = execFileSync('qpdf', arguments_, { maxBuffer: 2 ** 30 });
    const { qpdf } = JSON.parse(out.toString()) as { qpdf: [unknown, Record<string, Dictionary>] };
    const [, entries] = qpdf;
    this.trailer = (entries.trailer?.value ?? {}) as Dictionary;
    for (const [name, entry] of Object.entries(entries)) {
      if (!name.startsWith('obj:')) continue;
      const { stream } = entry as { stream?: { dict: Dictionary; data: string } };
      this.objects.set(
        name.slice(4),
        stream ? { dict: stream.dict, data: Buffer.from(stream.data, 'base64') } : (entry.value as Json),
      );
    }
  }

  /** What a reference leads to, or the value itself. */
  at(value: Json | undefined): Json | undefined {
    if (typeof value !== 'string' || !/^\d+ 0 R$/.test(value)) return value;
    const found = this.objects.get(value);
    return found && isStream(found) ? found.dict : found;
  }

  dictionary(value: Json | undefined): Dictionary {
    const found = this.at(value);
    return isDictionary(found) ? found : {};
  }

  list(value: Json | undefined): Json[] {
    const found = this.at(value);
    return Array.isArray(found) ? found : found === undefined || found === null ? [] : [found];
  }

  stream(value: Json | undefined): Stream | null {
    const found = typeof value === 'string' ? this.objects.get(value) : undefined;
    return found && isStream(found) ? found : null;
  }

  get root(): Dictionary {
    return this.dictionary(this.trailer['/Root']);
  }

  /** References of its pages, in order. */
  pages(node: Json | undefined = this.root['/Pages']): string[] {
    const { '/Kids': kids } = this.dictionary(node);
    return kids ? this.list(kids).flatMap((kid) => this.pages(kid)) : [node as string];
  }
}

const isStream = (value: Json | Stream): value is Stream =>
  typeof value === 'object' && value !== null && 'data' in value && Buffer.isBuffer(value.data);

const words = (value: Json | undefined): string => (typeof value === 'string' ? value.replace(/^u:/, '') : '');

/** A piece of a content stream: an operator with what stands before it. */
interface Operation {
  operator: string;
  operands: string[];
}

const TOKENS = /<<(?:[^<>]|<[0-9a-fA-F]*>|<<[^<>]*>>)*>>|<[0-9a-fA-F\s]*>|\[[^\]]*\]|\/[^\s<>[\]/()]+|[^\s<>[\]/()]+/g;

function* operations(content: string): Iterable<Operation> {
  let operands: string[] = [];
  for (const [token] of content.matchAll(TOKENS)) {
    if (/^[A-Za-z'"*]+\*?$/.test(token) && token !== 'true' && token !== 'false') {
      yield { operator: token, operands };
      operands = [];
    } else operands.push(token);
  }
}

/** Operators that leave something on the page. */
const DRAWING = new Set(['Tj', 'TJ', "'", '"', 'f', 'F', 'f*', 'S', 's', 'B', 'B*', 'b', 'b*', 'Do', 'sh', 'EI']);

interface Face {
  /** Texts by code. */
  texts: Map<number, string>;
  used: Set<number>;
  reference: string;
}

const utf16 = (hex: string): string => {
  const codes = hex.replace(/\s/g, '').match(/.{4}/g) ?? [];
  return String.fromCharCode(...codes.map((code) => Number.parseInt(code, 16)));
};

/** Texts of a table from codes to Unicode. */
const textsOf = (map: string): Map<number, string> => {
  const texts = new Map<number, string>();
  for (const [, from, list] of map.matchAll(/<([0-9a-fA-F]+)>\s*<[0-9a-fA-F]+>\s*\[([^\]]*)\]/g)) {
    let code = Number.parseInt(from!, 16);
    for (const [, hex] of list!.matchAll(/<([0-9a-fA-F\s]*)>/g)) texts.set(code++, utf16(hex!));
  }
  return texts;
};

/** What was found of a file. */
export interface Checked {
  complaints: string[];
  /** Texts in the order of the tree, by the type of the element around each. */
  read: { type: string; text: string }[];
}

/** Checks a file against the rules; `part` is that of ISO 19005 that it says it keeps to. */
export const checkConformance = (path: string, part: 2 | 3 = 2): Checked => new Checker(new PdfFile(path), part).all();

class Checker {
  private readonly complaints: string[] = [];
  private readonly faces = new Map<string, Face>();
  /** Texts of marked content, by page and number. */
  private readonly marked = new Map<string, string>();
  private readonly held = new Set<string>();
  private readonly read: Checked['read'] = [];
  private level = 0;

  constructor(
    private readonly file: PdfFile,
    private readonly part: 2 | 3,
  ) {}

  private must(holds: boolean, rule: string): void {
    if (!holds && !this.complaints.includes(rule)) this.complaints.push(rule);
  }

  all(): Checked {
    this.document();
    this.metadata();
    this.forbidden();
    for (const page of this.file.pages()) this.page(page);
    this.fonts();
    this.tree();
    return { complaints: this.complaints, read: this.read };
  }

  private document(): void {
    const { root, trailer } = this.file;
    this.must(trailer['/Encrypt'] === undefined, 'is not encrypted');
    this.must(this.file.list(trailer['/ID']).length === 2, 'has an identifier');
    this.must(words(root['/Lang']) !== '', 'says its language');
    this.must(this.file.dictionary(root['/MarkInfo'])['/Marked'] === true, 'is marked');
    this.must(this.file.dictionary(root['/ViewerPreferences'])['/DisplayDocTitle'] === true, 'shows its title');
    for (const key of ['/AA', '/OCProperties', '/AcroForm', '/Requirements'])
      this.must(root[key] === undefined, `has no ${key}`);
    const attached = this.file.list(root['/AF']);
    this.must((this.part === 3) === attached.length > 0, 'has attached data where it says so');
    for (const one of attached) {
      const { '/AFRelationship': relation, '/F': name, '/UF': same, '/Desc': words } = this.file.dictionary(one);
      this.must(relation === '/Data' && name === same && words !== undefined, 'says what attached data are');
    }
    const [intent] = this.file.list(root['/OutputIntents']);
    const profile = this.file.stream(this.file.dictionary(intent)['/DestOutputProfile']);
    this.must(
      profile?.dict['/N'] === 3 && profile.data.toString('latin1', 36, 40) === 'acsp',
      'has its colours’ profile',
    );
    this.must(this.file.dictionary(intent)['/S'] === '/GTS_PDFA1', 'says what the profile is for');
  }

  private metadata(): void {
    const stream = this.file.stream(this.file.root['/Metadata']);
    const packet = stream?.data.toString() ?? '';
    this.must(stream?.dict['/Filter'] === undefined, 'has readable metadata');
    const info = this.file.dictionary(this.file.trailer['/Info']);
    const said = (key: string): string => words(this.file.at(info[key]));
    const one = (pattern: RegExp): string =>
      (pattern.exec(packet)?.[1] ?? '')
        .replace(/&lt;/g, '<')
        .replace(/&gt;/g, '>')
        .replace(/&quot;/g, '"')
        .replace(/&amp;/g, '&');
    const date = (value: string): string => value.replace(/\D/g, '');
    this.must(one(/<pdfaid:part>(\d)</) === `${this.part}`, 'says the part of PDF/A');
    this.must(one(/<pdfaid:conformance>(\w)</) === 'A', 'says level A');
    this.must(one(/<pdfuaid:part>(\d)</) === '1', 'says PDF/UA-1');
    this.must(packet.includes('pdfaExtension:schemas'), 'describes what PDF/A does not know');
    this.must(said('/Title') !== '' && one(/<dc:title>.*?<rdf:li[^>]*>([^<]*)</s) === said('/Title'), 'title in step');
    this.must(one(/<dc:creator>.*?<rdf:li>([^<]*)</s) === said('/Author'), 'author in step');
    this.must(one(/<pdf:Producer>([^<]*)</) === said('/Producer'), 'producer in step');
    this.must(one(/<xmp:CreatorTool>([^<]*)</) === said('/Creator'), 'creator in step');
    this.must(date(one(/<xmp:CreateDate>([^<]*)</)) === date(said('/CreationDate')), 'date of creation in step');
    this.must(date(one(/<xmp:ModifyDate>([^<]*)</)) === date(said('/ModDate')), 'date of change in step');
  }

  /** Keys and values that nothing in the file may have. */
  private forbidden(): void {
    for (const value of this.file.objects.values()) {
      const found = isStream(value) ? value.dict : value;
      if (!isDictionary(found)) continue;
      if (isStream(value)) {
        this.must(found['/F'] === undefined, 'holds its streams itself');
        this.must(!JSON.stringify(found['/Filter'] ?? '').includes('LZW'), 'uses no LZW');
      }
      if (found['/Subtype'] === '/Image') {
        this.must(found['/Interpolate'] !== true && found['/Alternates'] === undefined, 'shows pictures as they are');
        this.must(['/DeviceRGB', '/DeviceGray'].includes(String(found['/ColorSpace'])), 'has colours of its profile');
      }
      if (found['/Type'] === '/ExtGState')
        for (const key of ['/TR', '/TR2', '/HTP', '/BM']) this.must(found[key] === undefined, `no ${key} in states`);
      const action = found['/A'];
      if (isDictionary(action) && action['/S'] !== undefined)
        this.must(['/GoTo', '/URI'].includes(String(action['/S'])), `follows no ${String(action['/S'])}`);
      for (const key of ['/JS', '/AA', '/RichMedia', '/XFA']) this.must(found[key] === undefined, `has no ${key}`);
    }
  }

  private page(reference: string): void {
    const page = this.file.dictionary(reference);
    const box = this.file.list(page['/MediaBox']).map(Number);
    this.must(
      box[2]! >= 3 && box[3]! >= 3 && box[2]! <= 14_400 && box[3]! <= 14_400,
      'has pages of a size that may be',
    );
    this.must(page['/StructParents'] !== undefined, 'pages have a place in the tree');
    const links = this.file.list(page['/Annots']);
    this.must(links.length === 0 || page['/Tabs'] === '/S', 'goes from link to link in order');
    for (const link of links) {
      const { '/F': flags, '/Contents': contents, '/StructParent': key } = this.file.dictionary(link);
      this.must((Number(flags) & 4) === 4 && (Number(flags) & ~4) === 0, 'prints its links');
      this.must(words(contents) !== '', 'says where links lead');
      this.must(this.file.dictionary(this.parentOf(Number(key)))['/S'] === '/Link', 'has links in link elements');
    }
    const fonts = this.file.dictionary(this.file.dictionary(page['/Resources'])['/Font']);
    const contents = page['/Contents'];
    const parts = Array.isArray(contents) ? contents : [contents!];
    const held = this.file.list(this.parentOf(Number(page['/StructParents'])));
    const found = new Set<number>();
    for (const part of parts) this.content(reference, this.file.stream(part)!.data.toString('latin1'), fonts, found);
    for (const number of found) this.must(typeof held[number] === 'string', 'has all content in the tree');
    this.must(held.filter((one) => one !== null).length === found.size, 'has no more in the tree than on its pages');
  }

  private content(page: string, content: string, fonts: Dictionary, found: Set<number>): void {
    const open: { number: number | null; isSaid: boolean; inText: boolean }[] = [];
    let inText = false;
    let face: Face | null = null;
    let depth = 0;
    const add = (text: string): void => {
      const number = open.find((one) => one.number !== null)?.number;
      if (number === undefined || number === null) return;
      const key = `${page} ${number}`;
      this.marked.set(key, `${this.marked.get(key) ?? ''}${text}`);
    };
    for (const { operator, operands } of operations(content)) {
      if (operator === 'BT') inText = true;
      else if (operator === 'ET') {
        inText = false;
        this.must(
          open.every((one) => !one.inText),
          'ends marked content where it begins: in a text or around it',
        );
      } else if (operator === 'q') depth++;
      else if (operator === 'Q') depth--;
      else if (operator === 'BMC' || operator === 'BDC') {
        const number = /\/MCID (\d+)/.exec(operands[1] ?? '')?.[1];
        const said = /\/ActualText\s*<feff([0-9a-f]*)>/.exec(operands[1] ?? '')?.[1];
        if (number !== undefined) {
          this.must(!found.has(Number(number)), 'numbers marked content once');
          this.must(open.length === 0, 'has no marked content in another');
          found.add(Number(number));
          this.marked.set(`${page} ${number}`, '');
        }
        if (said !== undefined) add(utf16(said));
        open.push({
          number: number === undefined ? null : Number(number),
          isSaid: said !== undefined,
          inText: inText,
        });
      } else if (operator === 'EMC') {
        const last = open.pop();
        this.must(last !== undefined && last.inText === inText, 'begins and ends marked content in pairs');
      } else if (operator === 'Tf') face = this.face(fonts[operands[0]!] as string);
      this.must(depth <= 28, 'keeps few states at once');
      if (!DRAWING.has(operator)) continue;
      this.must(open.length > 0, 'has everything marked, or as decoration');
      if (operator !== 'Tj' || !face) continue;
      for (const code of (operands.at(-1) ?? '').match(/[0-9a-f]{4}/g) ?? []) {
        const number = Number.parseInt(code, 16);
        face.used.add(number);
        if (!open.some(({ isSaid }) => isSaid)) add(face.texts.get(number) ?? '');
      }
    }
    this.must(open.length === 0, 'ends all marked content');
  }

  private face(reference: string): Face {
    let face = this.faces.get(reference);
    if (!face) {
      const map = this.file.stream(this.file.dictionary(reference)['/ToUnicode']);
      face = { texts: textsOf(map?.data.toString('latin1') ?? ''), used: new Set(), reference };
      this.faces.set(reference, face);
    }
    return face;
  }

  private fonts(): void {
    for (const { reference, texts, used } of this.faces.values()) {
      const [below] = this.file.list(this.file.dictionary(reference)['/DescendantFonts']);
      const font = this.file.dictionary(below);
      const program = this.file.stream(this.file.dictionary(font['/FontDescriptor'])['/FontFile2']);
      this.must(program !== null, 'holds its fonts');
      this.must(font['/CIDToGIDMap'] === '/Identity', 'says which glyph a code is');
      this.must(!used.has(0), 'shows no sign for what is missing');
      if (!program) continue;
      const parsed = create(program.data) as unknown as {
        unitsPerEm: number;
        getGlyph(id: number): { advanceWidth: number };
      };
      const [, widths] = this.file.list(font['/W']);
      for (const code of used) {
        const text = texts.get(code) ?? '';
        this.must(text !== '' && !/[\0\uFEFF\uFFFE]/.test(text), 'says the text of each sign');
        const wide = (parsed.getGlyph(code).advanceWidth * 1000) / parsed.unitsPerEm;
        this.must(Math.abs(wide - Number(this.file.list(widths)[code])) <= 1, 'has widths as its fonts do');
      }
      for (const text of texts.values()) this.must(!/[\0\uFEFF\uFFFE]/.test(text), 'maps no sign to none');
    }
  }

  private parents: Map<number, Json> | null = null;

  private parentOf(key: number): Json | undefined {
    if (!this.parents) {
      this.parents = new Map();
      const root = this.file.dictionary(this.file.root['/StructTreeRoot']);
      for (const leaf of this.file.list(this.file.dictionary(root['/ParentTree'])['/Kids'])) {
        const pairs = this.file.list(this.file.dictionary(leaf)['/Nums']);
        for (let i = 0; i < pairs.length; i += 2) this.parents.set(Number(pairs[i]), pairs[i + 1]!);
      }
    }
    return this.parents.get(key);
  }

  private tree(): void {
    const { root } = this.file;
    const top = this.file.dictionary(root['/StructTreeRoot']);
    const document = top['/K'];
    this.must(typeof document === 'string', 'has a tree');
    if (typeof document !== 'string') return;
    this.element(document, root['/StructTreeRoot'] as string, '');
    for (const key of this.marked.keys()) this.must(this.held.has(key), 'reads all its content');
  }

  private element(reference: string, parent: string, around: string): void {
    const element = this.file.dictionary(reference);
    const type = String(element['/S']).slice(1);
    this.must(element['/P'] === parent, 'has elements that know what they are in');
    const kids = this.file.list(element['/K']);
    const own = kids.flatMap((kid) => (typeof kid === 'string' && / R$/.test(kid) ? [kid] : []));
    const types = own.map((kid) => String(this.file.dictionary(kid)['/S']).slice(1));
    const only = (...allowed: string[]): boolean => types.every((one) => allowed.includes(one));
    const heading = /^H(\d)$/.exec(type)?.[1];
    if (heading) {
      this.must(Number(heading) <= this.level + 1, 'has headings in order');
      this.level = Number(heading);
    }
    if (type === 'Figure') {
      this.must(words(element['/Alt']) !== '', 'says what figures show');
      this.must(this.file.list(this.attribute(element, '/BBox')).length === 4, 'says where figures stand');
    }
    if (type === 'L') this.must(only('LI') && own.length > 0, 'has lists of items');
    if (type === 'LI') this.must(only('Lbl', 'LBody') && own.length > 0, 'has items of labels and bodies');
    if (type === 'TOC') this.must(only('TOCI'), 'has contents of entries');
    if (type === 'TR') this.must(only('TH', 'TD') && around === 'Table', 'has rows of cells');
    if (type === 'TH')
      this.must(['/Column', '/Row'].includes(String(this.attribute(element, '/Scope'))), 'says what a header heads');
    if (type === 'Table') this.table(own);
    if (type === 'Link')
      this.must(
        kids.some((kid) => isDictionary(kid) && kid['/Type'] === '/OBJR') || own.length > 0 || kids.length > 0,
        'has links with what they lead from',
      );
    const page = element['/Pg'] as string;
    let text = '';
    for (const kid of kids) {
      if (typeof kid !== 'number') continue;
      const key = `${page} ${kid}`;
      this.must(this.marked.has(key), 'holds nothing that is not there');
      this.must(!this.held.has(key), 'reads everything once');
      this.held.add(key);
      text += this.marked.get(key) ?? '';
    }
    if (text !== '') this.read.push({ type, text });
    for (const kid of own) this.element(kid, reference, type);
  }

  private attribute(element: Dictionary, key: string): Json | undefined {
    return this.file.dictionary(element['/A'])[key];
  }

  private table(rows: readonly string[]): void {
    let hasHeaders = false;
    const wide = rows.map((row) => {
      let sum = 0;
      for (const cell of this.file.list(this.file.dictionary(row)['/K'])) {
        const element = this.file.dictionary(cell);
        if (element['/S'] === '/TH') hasHeaders = true;
        sum += Number(this.attribute(element, '/ColSpan') ?? 1);
      }
      return sum;
    });
    this.must(hasHeaders, 'has tables with headers');
    this.must(rows.length > 0 && wide.every((count) => count === wide[0]), 'has tables whose rows are equally wide');
  }
}
