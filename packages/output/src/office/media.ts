import type { ContentPart, DrawingContent, FontBook } from '@gaveta/core/internal';
import type { Archive } from '../archive.ts';
import { drawingPng, drawingSvg } from '../document/drawing.ts';
import { type DocumentNode, partsIn } from '../document/nodes.ts';
import type { PictureFiles } from '../writer.ts';

const PNG = 0x89;

/** The pictures of a document, each once in its archive. */
export class Media {
  private readonly pictures = new Map<string, string | null>();
  private readonly drawings = new WeakMap<DrawingContent, { png: string; svg: string }>();
  private count = 0;

  /** `folder`: of the archive, where they go. */
  constructor(
    private readonly archive: Archive,
    private readonly folder: string,
    private readonly files: PictureFiles,
    private readonly book: FontBook,
  ) {}

  /** Puts what nodes show into the archive. */
  async add(nodes: readonly DocumentNode[]): Promise<void> {
    for (const part of partsIn(nodes)) await this.addPart(part);
  }

  async addPart(part: ContentPart): Promise<void> {
    const { content } = part;
    if (content.kind === 'picture' && !this.pictures.has(content.picture)) {
      const bytes = await this.files(content.picture);
      this.pictures.set(content.picture, bytes && (await this.put(bytes, bytes[0] === PNG ? 'png' : 'jpeg')));
    } else if (content.kind === 'drawing' && !this.drawings.has(content)) await this.draw(part, content);
  }

  private async put(bytes: Uint8Array | string, extension: string): Promise<string> {
    const name = `picture${++this.count}.${extension}`;
    await this.archive.add(`${this.folder}/${name}`, bytes, { stored: extension !== 'svg' });
    return name;
  }

  private async draw(part: ContentPart, drawing: DrawingContent): Promise<void> {
    const png = await this.put(drawingPng(part, drawing, this.book), 'png');
    const svg = await this.put(drawingSvg(part, drawing, this.book), 'svg');
    this.drawings.set(drawing, { png, svg });
  }

  /** The names of the files of a picture in the folder; null where there is none. */
  of(content: ContentPart['content']): { file: string; svg?: string } | null {
    if (content.kind === 'drawing') {
      const drawn = this.drawings.get(content);
      return drawn ? { file: drawn.png, svg: drawn.svg } : null;
    }
    const file = content.kind === 'picture' ? this.pictures.get(content.picture) : null;
    return file ? { file } : null;
  }
}
