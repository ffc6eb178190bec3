import type { DeliveryFile } from '../store/delivery-records.ts';

/** Bytes that are kept. */
const MOST_BYTES = 32_000_000;

/** Files that were made a moment ago, so that they need not be read from the store to be sent; the oldest go first. */
export class MadeFiles {
  private readonly files = new Map<string, readonly DeliveryFile[]>();
  private bytes = 0;

  keep(content: string, files: readonly DeliveryFile[]): void {
    this.drop(content);
    this.files.set(content, files);
    this.bytes += sizeOf(files);
    for (const oldest of this.files.keys()) {
      if (this.bytes <= MOST_BYTES) return;
      this.drop(oldest);
    }
  }

  of(content: string): readonly DeliveryFile[] | undefined {
    return this.files.get(content);
  }

  private drop(content: string): void {
    this.bytes -= sizeOf(this.files.get(content) ?? []);
    this.files.delete(content);
  }
}

const sizeOf = (files: readonly DeliveryFile[]): number => files.reduce((sum, { bytes }) => sum + bytes.byteLength, 0);
