/** A pair of a matrix in words. */
import type { MatrixCell, MatrixVariable } from '@/api/types'
import { shareText } from '@/render/text/numbers'
import { grouped, inSentence } from '@/figure-model/words'

/** What a cell of a matrix is: its pair, r and n. */
export function pairText(cell: MatrixCell, variables: readonly MatrixVariable[]): string {
  const [x, y] = [variables[cell.x], variables[cell.y]]
  const r = cell.r === null ? '' : `: r = ${shareText(cell.r)}`
  return `${y.label} against ${inSentence(x)}${r}, n = ${grouped(cell.n)}`
}
