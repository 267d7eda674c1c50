/** Colours and defaults of the interface. Figures keep their own paper in both themes. */
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import 'vuetify/styles'

const light = {
  dark: false,
  colors: {
    background: '#eef1ec',
    surface: '#ffffff',
    primary: '#006a64',
    secondary: '#52615f',
    error: '#af2d18',
    'on-background': '#1d2b2a',
    'on-surface': '#1d2b2a',
    'on-primary': '#ffffff',
  },
}

const dark = {
  dark: true,
  colors: {
    background: '#141c1b',
    surface: '#1e2827',
    primary: '#6cc3b8',
    secondary: '#a9b8b4',
    error: '#f0907e',
    'on-background': '#e6ece9',
    'on-surface': '#e6ece9',
    'on-primary': '#0d2422',
  },
}

export const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: { defaultTheme: 'system', themes: { light, dark } },
  defaults: {
    VBtn: { variant: 'outlined', rounded: '6', elevation: 0, class: 'text-none' },
    VTextField: { variant: 'outlined', density: 'compact', hideDetails: 'auto', color: 'primary' },
    VSelect: { variant: 'outlined', density: 'compact', hideDetails: 'auto', color: 'primary' },
    VSlider: { hideDetails: true, color: 'primary', density: 'compact' },
    VMenu: { offset: 4 },
  },
})
