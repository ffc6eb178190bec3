import type { Block, LaidMark } from './block.ts';
import { IndentedFlow } from './indented-flow.ts';
import { otherSide, type Width } from './mirrored-box.ts';
import type { FlowingItem, PreparedItem } from './prepared.ts';

/** Moves a mark to the other side. What it shows is not turned round: words stay readable, and pictures as they are. */
const mirrorMark = (mark: LaidMark, of: Width): void => {
  switch (mark.kind) {
    case 'late': {
      const { make } = mark;
      mark.make = (page) => {
        const marks = make(page);
        // Their places are counted from that of the mark.
        for (const one of marks) mirrorMark(one, { left: of.left - mark.x, width: of.width });
        return marks;
      };
      return;
    }
    case 'line':
      [mark.x, mark.x2] = [otherSide(of, mark.x, 0), otherSide(of, mark.x2, 0)];
      return;
    case 'anchor':
    case 'outline':
      mark.x = otherSide(of, mark.x, 0);
      return;
    default:
      mark.x = otherSide(of, mark.x, mark.width);
  }
};

/** An item whose parts are laid from right to left, inside its own box. */
export const mirroredItem = (item: PreparedItem): PreparedItem => ({
  ...item,
  lay: (top, out) => {
    const from = out.marks.length;
    const used = item.lay(top, out);
    const { x: left, width } = item.box;
    for (let i = from; i < out.marks.length; i++) mirrorMark(out.marks[i]!, { left, width });
    return used;
  },
  deciding: {
    ...item.deciding,
    withSettings: (box, decided) => mirroredItem(item.deciding.withSettings(box, decided)),
  },
});

/** As {@link mirroredItem}, of an item that may take several pages. */
export const mirroredFlowing = (item: FlowingItem): FlowingItem => {
  const mirror = ({ marks }: Block): void => {
    for (const mark of marks) mirrorMark(mark, { left: 0, width: item.box.width });
  };
  return {
    ...item,
    begin: (run) => {
      const filling = item.begin(run);
      return {
        fill: (flow) => filling.fill(new IndentedFlow(flow, 0, mirror)),
        close: () => filling.close(),
      };
    },
  };
};
