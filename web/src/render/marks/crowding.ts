/** How opaque marks are to be, from how crowded the figure is. */

/** Above so many marks in view single ones can no longer be told apart. */
export const MANY = 50_000

const MOST = 0.85
const LEAST = 0.06

/**
 * Opacity at which overlapping marks can still be told from single ones.
 *
 * @param count marks drawn
 * @param size diameter of a mark, in points
 * @param area of the plot, in square points
 */
export function opacityFor(count: number, size: number, area: number): number {
  // Marks gather in about a quarter of the plot; this is how many lie on each spot there.
  const layers = (count * Math.PI * (size / 2) ** 2) / Math.max(1, area / 4)
  return Math.max(LEAST, Math.min(MOST, 1.1 / (1 + 2 * layers)))
}
