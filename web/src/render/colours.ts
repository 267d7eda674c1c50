/** Colours of figures: the categories in their order, and ramps for amounts. */
import type { Colour } from './scene'

export const fromHex = (hex: string): Colour => {
  const value = Number.parseInt(hex.slice(1), 16)
  return [value >> 16, (value >> 8) & 255, value & 255]
}

export const toHex = ([red, green, blue]: Colour): string =>
  '#' + ((red << 16) | (green << 8) | blue).toString(16).padStart(6, '0')

/** A colour as it looks at an opacity on a ground. */
export const mixed = (colour: Colour, ground: Colour, opacity: number): Colour => {
  const [red, green, blue] = colour.map((v, i) =>
    Math.round(v * opacity + ground[i] * (1 - opacity)),
  )
  return [red, green, blue]
}

export const PAPER = fromHex('#ffffff')
export const INK = fromHex('#1d2b2a')
export const SOFT_INK = fromHex('#52615f')
/** Marks without a value of the colour variable. */
export const MISSING = fromHex('#7a8683')

/** What they are called, in their order. */
export const CATEGORY_NAMES = [
  'fern',
  'rust',
  'yarrow',
  'dusk',
  'lilac',
  'lichen',
  'violet',
  'heron',
] as const

/**
 * Colours of categories. Found by search in OKLab for the largest
 * smallest difference under normal, deuteranope, protanope and tritanope vision.
 */
export const CATEGORIES: readonly Colour[] = [
  '#006a64',
  '#af2d18',
  '#af830b',
  '#37375a',
  '#b270f9',
  '#649d94',
  '#5630a8',
  '#5e71ae',
].map(fromHex)

interface Lch {
  lightness: number
  chroma: number
  hue: number
}

/** OKLCH to sRGB (Ottosson 2020); chroma is reduced until the colour can be shown. */
export function fromOklch({ lightness, chroma, hue }: Lch): Colour {
  const angle = (hue * Math.PI) / 180
  for (let c = chroma; ; c -= 0.002) {
    const linear = toLinear(lightness, c * Math.cos(angle), c * Math.sin(angle))
    if (c <= 0 || linear.every((v) => v >= -1e-4 && v <= 1.0001)) {
      const [red, green, blue] = linear.map(encode)
      return [red, green, blue]
    }
  }
}

function toLinear(lightness: number, a: number, b: number): number[] {
  const l = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3
  const m = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3
  const s = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3
  return [
    4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
    -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
    -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s,
  ]
}

function encode(linear: number): number {
  const v = Math.min(1, Math.max(0, linear))
  return Math.round(255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055))
}

/** OKLab lightness of a colour, from 0 to 1. */
export function lightnessOf(colour: Colour): number {
  const [r, g, b] = colour.map((v) => {
    const s = v / 255
    return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4
  })
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b)
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b)
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b)
  return 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s
}

const mix = (from: number, to: number, share: number): number => from + (to - from) * share

/** A ramp is a straight run in OKLCH, so its lightness falls evenly from end to end. */
const ramp =
  (from: Lch, to: Lch) =>
  (share: number): Colour => {
    // Chroma swells towards the middle, where the screen has room for it.
    const swell = 0.03 * Math.sin(Math.PI * share)
    return fromOklch({
      lightness: mix(from.lightness, to.lightness, share),
      chroma: mix(from.chroma, to.chroma, share) + swell,
      hue: mix(from.hue, to.hue, share),
    })
  }

/** Pale sage to deep fern. */
export const dew = ramp(
  { lightness: 0.8, chroma: 0.07, hue: 128 },
  { lightness: 0.3, chroma: 0.06, hue: 188 },
)

/** Pale straw to dark rust. */
export const ember = ramp(
  { lightness: 0.86, chroma: 0.07, hue: 92 },
  { lightness: 0.34, chroma: 0.11, hue: 32 },
)

const toRust = ramp(
  { lightness: 0.96, chroma: 0.005, hue: 60 },
  { lightness: 0.42, chroma: 0.12, hue: 32 },
)
const toFern = ramp(
  { lightness: 0.96, chroma: 0.005, hue: 170 },
  { lightness: 0.42, chroma: 0.07, hue: 186 },
)

/** Two-sided: rust, paper, fern; lightness falls evenly from the middle to both ends. */
export const tide = (share: number): Colour =>
  share < 0.5 ? toRust(1 - 2 * share) : toFern(2 * share - 1)

export const RAMPS = { dew, ember, tide } as const

/** Steps that a continuous ramp is drawn with. */
export const RAMP_STEPS = 64

/** A ramp cut into steps, from end to end. */
export const stepsOf = (
  colourAt: (share: number) => Colour,
  steps: number = RAMP_STEPS,
): Colour[] => Array.from({ length: steps }, (_, i) => colourAt(steps > 1 ? i / (steps - 1) : 0))
