/** Parts of a document as they begin: the defaults of the server's models. */
import { familyOf } from '@/figure-model/families'
import { VOCABULARY } from '@/figure-model/vocabulary'
import type { FigureDocument, Lettering, OwnLook, PlateDocument, Trend } from '@/api/types'

type Part<Name extends keyof FigureDocument> = NonNullable<FigureDocument[Name]>

/** A part as it begins; what it cannot do without is given. */
const begun = <Held>(part: string, given: Partial<NoInfer<Held>> = {}): Held =>
  ({ ...structuredClone(VOCABULARY.defaults[part]), ...given }) as Held

export const blankAxis = (): FigureDocument['axes']['x'] => begun('Axis')

export const blankColour = (
  variable: string,
  scale: Part<'colour'>['scale'] = null,
): Part<'colour'> => begun('Colour', { variable, scale })

export const blankSize = (variable: string): Part<'size'> => begun('Size', { variable })

export const blankNames = (variable: string, show: Part<'names'>['show']): Part<'names'> =>
  begun('Names', { variable, show })

/** Error bars as a share of each value: they need no variable. */
export const blankBar = (): NonNullable<FigureDocument['error_bars']['y']> =>
  begun('ErrorBar', { kind: 'share', amount: 0.05 })

export const blankConnect = (): Part<'connect'> => begun('Connect')

/** A trend as it begins: a band is drawn about it where its family has one. */
export const blankTrend = (family: string, by: string | null): Trend =>
  ({ ...structuredClone(VOCABULARY.trends[family]), by }) as unknown as Trend

/** What is set about a family, as it begins. */
export const blankSettings = <Settings = Trend['settings']>(family: string): Settings =>
  blankTrend(family, null).settings as Settings

/** Gives a trend another family: bands go where it has none, and come back where it has. */
export function setFamily(trend: Trend, family: string, settings?: Trend['settings']): void {
  const hadBand = familyOf(trend.family).has_band
  const has = familyOf(family).has_band
  const bands = !has ? [] : hadBand ? trend.bands : blankTrend(family, null).bands
  if (has && !hadBand) for (const band of bands) band.level = trend.level
  Object.assign(trend, { family, bands, settings: settings ?? blankSettings(family) })
  // Only straight lines can be parallel.
  trend.slopes = 'own'
}

export const blankMatrix = (variables: string[]): Part<'matrix'> => begun('Matrix', { variables })

export const blankDistribution = (variable: string, by: string | null): Part<'distribution'> =>
  begun('Distribution', { variable, by })

export const blankSpace = (variable: string): Part<'space'> => begun('Space', { variable })

export const blankPlane = (by: string | null): NonNullable<Part<'space'>['plane']> =>
  begun('Plane', { by })

export const blankLettering = (): Lettering => begun('Lettering')

export const blankOwnLook = (): OwnLook => begun('OwnLook')

/** A line at the mean: it needs no value. */
export const blankReference = (): FigureDocument['references'][number] =>
  begun('Reference', { at: 'mean' })

/** A whole document but for what it shows. */
export const blankDocument = (table: string, x: string, y: string): FigureDocument =>
  begun('FigureDocument', { table, x, y: [y] })

const MOST_A_ROW = 4

/** A plate of several figures, about as wide as it is high. */
export function blankPlate(cells: PlateDocument['cells'], one: boolean): PlateDocument {
  const count = cells.length
  const columns = count <= 3 ? count : Math.min(MOST_A_ROW, Math.ceil(Math.sqrt(count)))
  const rows = Math.ceil(count / columns)
  return begun<PlateDocument>('PlateDocument', {
    cells,
    columns,
    shared: one ? 'both' : 'none',
    page: begun<PlateDocument['page']>('Page', {
      venue: 'own',
      width: columns === 1 ? 560 : Math.min(1100, 120 + 330 * columns),
      height: Math.min(1400, 60 + 320 * rows),
    }),
  })
}
