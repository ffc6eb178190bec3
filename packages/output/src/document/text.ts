/** Scripts that run from right to left, as they are most of them. */
const RIGHT_TO_LEFT = /[\p{Script=Arabic}\p{Script=Hebrew}\p{Script=Syriac}\p{Script=Thaana}\p{Script=Nko}]/u;
const STRONG = /\p{L}/u;

/** Whether a text runs from right to left: its first letter decides. */
export const runsLeft = (text: string): boolean => {
  const first = STRONG.exec(text);
  return first !== null && RIGHT_TO_LEFT.test(first[0]);
};

/** Names of places in a document: letters and digits, no more than 40. */
export class Bookmarks {
  private readonly names = new Map<string, string>();

  of(anchor: string): string {
    let name = this.names.get(anchor);
    if (name === undefined) {
      name = `place${this.names.size + 1}`;
      this.names.set(anchor, name);
    }
    return name;
  }
}
