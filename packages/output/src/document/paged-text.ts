import type { ContentSection } from '@gaveta/core/internal';
import type { Media } from '../office/media.ts';
import type { PartText } from '../part-text.ts';
import type { DocumentNode } from './nodes.ts';

/** What a document with pages does with what is told of it. */
export interface PagedWriter {
  /** The paper from here on. */
  section(section: ContentSection): Promise<void>;
  /** A new page begins, of a parity where one is asked for. */
  breakPage(parity: 'odd' | 'even' | null): Promise<void>;
  /** The numbering of pages starts anew. */
  restart(): Promise<void>;
  /** The elements of a paragraph, or of a part of a table. */
  written(node: DocumentNode): string;
}

/** Puts nodes into the text of a document with pages, with room for its lists of contents. */
export class PagedText {
  /** Deepest levels of the lists of contents, in their order. */
  readonly contents: number[] = [];

  constructor(
    private readonly media: Media,
    private readonly text: PartText,
    private readonly writer: PagedWriter,
  ) {}

  async put(nodes: readonly DocumentNode[]): Promise<void> {
    await this.media.add(nodes);
    for (const node of nodes) await this.node(node);
  }

  private async node(node: DocumentNode): Promise<void> {
    const { writer, text } = this;
    switch (node.kind) {
      case 'section':
        return writer.section(node);
      case 'break':
        return writer.breakPage(node.parity);
      case 'restart':
        return writer.restart();
      case 'paragraph':
        if (node.part.content.kind !== 'contents') break;
        this.contents.push(node.part.content.levels);
        await text.leaveRoom();
        return;
      case 'table':
      case 'row':
      case 'tableEnds':
      case 'rule':
        break;
      default:
        node satisfies never;
    }
    const told = text.write(writer.written(node));
    if (told) await told;
  }
}
