/** Which passage of the guide belongs to a panel, a caution or a number. */

/** A passage: a page, and an anchor on it. */
export type Passage = `${string}#${string}`

/** By the heading of a panel. */
export const OF_PANELS: Record<string, Passage> = {
  'Titles and page': 'readable#text',
  Marks: 'readable#overlap',
  'x axis': 'readable#axes',
  'y axis': 'readable#axes',
  'z axis': 'three-axes-and-distributions#a-3-d-scatterplot',
  Legend: 'choosing-variables#groups-by-colour',
  Trend: 'trends#which-trend',
  'Compare trends': 'trends#which-trend',
  Box: 'three-axes-and-distributions#a-3-d-scatterplot',
  Plane: 'three-axes-and-distributions#a-3-d-scatterplot',
  Distribution: 'three-axes-and-distributions#one-variable',
  Matrix: 'matrices#a-scatterplot-matrix',
  Plate: 'comparing#panels-on-a-plate',
  Export: 'exporting-and-sharing#images',
  Share: 'exporting-and-sharing#share-a-page',
  'Derive a variable': 'your-table#derive-variables',
  'Reshape or join': 'your-table#reshape-and-join',
  'Strongest pairs': 'matrices#strongest-pairs',
}

/** By the heading of a section of controls. */
export const OF_SECTIONS: Record<string, Passage> = {
  'Axis lines and crossing point': 'readable#axes',
  'Bins and smoothing': 'three-axes-and-distributions#one-variable',
  'Connecting line': 'readable#overlap',
  'Depth cues': 'three-axes-and-distributions#a-3-d-scatterplot',
  'Equation and readings on the figure': 'trends#what-the-numbers-mean',
  'Error bars': 'readable#error-bars',
  Extrapolate: 'reading-off#forecasts',
  Groups: 'comparing#in-one-figure',
  'Line and band': 'trends#bands',
  'Overlapping marks': 'readable#overlap',
  'Page and words': 'readable#text',
  'Read off': 'reading-off#y-at-an-x',
  Shadows: 'three-axes-and-distributions#a-3-d-scatterplot',
  'Ticks and their labels': 'readable#axes',
  Weights: 'trends#standard-errors',
}

/** By the label of a number among the readings. */
export const OF_NUMBERS: Record<string, Passage> = {
  'R²': 'statistics#r²',
  'Adjusted R²': 'statistics#r²',
  'R² of ln y': 'statistics#r²',
  'R² of y': 'statistics#r²',
  r: 'statistics#pairs',
  p: 'statistics#p',
  'standard error': 'statistics#standard-error',
  Intervals: 'statistics#standard-error',
  'Residual SD': 'statistics#standard-error',
  'Cross-validation error': 'statistics#comparing-trends',
  AICc: 'statistics#aicc',
  'Tjur’s R²': 'trends#yes-or-no',
  Deviance: 'trends#yes-or-no',
  'Deviance explained': 'trends#counts',
  'Variance over mean': 'trends#counts',
  'Excess variance (per mean²)': 'trends#counts',
  'Concordance (Lin)': 'trends#two-methods-of-one-quantity',
  'Rows weighted below ½': 'trends#outliers',
}

/** The passage about a number; none where its name says all. */
export const passageOfNumber = (label: string): Passage | undefined =>
  OF_NUMBERS[label] ?? (/ interval$/.test(label) ? 'statistics#intervals-and-bands' : undefined)

/** What cautions rest on. */
export const OF_CAUTIONS: Passage = 'statistics#cautions'

/** The address of a passage inside the app. */
export const addressOfPassage = (passage: Passage): string => `/guide/${passage}`
