/** The colours of the interface by their roles, light and dark; a figure keeps its own paper. */

const light = {
  ground: '#eef1ec',
  paper: '#ffffff',
  raised: '#ffffff',
  chosen: '#dfe8e2',
  ink: '#1d2b2a',
  'soft-ink': '#52615f',
  line: '#cfd8d3',
  edge: '#7c8984',
  accent: '#006a64',
  'on-accent': '#ffffff',
  focus: '#946d06',
  caution: '#af2d18',
  'caution-ground': '#fbeeea',
  distribution: '#8aa79f',
  shadow: '#1d2b2a1a',
  /** How much of a figure's colour shows beside it: on a dark ground some of it must be lighter. */
  own: '100%',
}

type Role = keyof typeof light

const dark: Record<Role, string> = {
  ground: '#141c1b',
  paper: '#ffffff',
  raised: '#1e2827',
  chosen: '#2b3a37',
  ink: '#e6ece9',
  'soft-ink': '#a9b8b4',
  line: '#3b4a47',
  edge: '#7a8a85',
  accent: '#6cc3b8',
  'on-accent': '#0d2422',
  focus: '#e4b84a',
  caution: '#f0907e',
  'caution-ground': '#3a2520',
  distribution: '#6f8c84',
  shadow: '#00000066',
  own: '62%',
}

export const PALETTE = { light, dark }

/** On a figure's paper, which is the same in both. */
const ON_PAPER = {
  'paper-ink': light.ink,
  'paper-words': light.paper,
  'paper-soft': '#d5ddd9',
  'paper-accent': light.accent,
  'paper-line': light.line,
  'paper-focus': light.focus,
  'paper-focus-faint': '#af830b1a',
}

const properties = (colours: Record<string, string>): string =>
  Object.entries(colours)
    .map(([role, colour]) => `--${role}: ${colour};`)
    .join(' ')

/** Makes the roles known to style sheets. */
export function showPalette(): void {
  const sheet = document.createElement('style')
  sheet.textContent = `:root { ${properties({ ...light, ...ON_PAPER })} } .v-theme--dark { ${properties(dark)} }`
  document.head.prepend(sheet)
}
