/** Straight lines from one place to another. */
export type Segment = readonly [x0: number, y0: number, x1: number, y1: number]

const side = (x: number, y: number, [x0, y0, x1, y1]: Segment): number =>
  Math.sign((x0 - x) * (y1 - y) - (y0 - y) * (x1 - x))

/** Whether two lines cross. */
export const cross = (a: Segment, b: Segment): boolean => ends(a, b) && ends(b, a)

/** Whether the ends of the second lie on both sides of the first. */
const ends = ([ax, ay, bx, by]: Segment, [cx, cy, dx, dy]: Segment): boolean =>
  side(ax, ay, [bx, by, cx, cy]) !== side(ax, ay, [bx, by, dx, dy])
