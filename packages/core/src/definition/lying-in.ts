interface Drawn {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** How far past the edge of a panel an item may reach and still lie in it: in millimetres about half of one, in points a fifth. */
const OVER = 0.6;

/** Whether an item lies inside a panel, as both are drawn; in any unit. */
export const liesIn = (item: Drawn, panel: Drawn): boolean =>
  item.x >= panel.x - OVER &&
  item.y >= panel.y - OVER &&
  item.x + item.width <= panel.x + panel.width + OVER &&
  item.y + item.height <= panel.y + panel.height + OVER;
